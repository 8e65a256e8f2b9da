import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'
import prettier from 'eslint-config-prettier'
import said from './words/rule.js'

export default ts.config(
  { ignores: ['src/api/schema.d.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  prettier,
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { plugins: { words: { rules: { said } } }, files: ['src/**'], rules: { 'words/said': 'error' } },
  {
    rules: {
      'no-undef': 'off',
      'vue/html-self-closing': ['error', { html: { void: 'always' } }],
      'max-len': ['error', { code: 120, ignoreUrls: true }],
      'vue/multi-word-component-names': 'error',
    },
  },
)
