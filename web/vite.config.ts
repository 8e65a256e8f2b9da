import { defineConfig } from 'vite'
import vue from '@vitejs/plugin-vue'

export default defineConfig({
  // a line that the formatter breaks between two words stays a space between them
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  // the server puts a new nonce in its place with every answer
  html: { cspNonce: 'FALDA_NONCE' },
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    manifest: 'files.json',
    assetsInlineLimit: 0,
    target: 'es2022',
    chunkSizeWarningLimit: 700,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8087' } },
})
