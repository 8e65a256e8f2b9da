import { defineConfig, type Plugin } from 'vite'
import vue from '@vitejs/plugin-vue'
import { speak } from './words/sentences.js'

export default defineConfig({
  plugins: [
    vue({
      template: {
        compilerOptions: {
          // a line that the formatter breaks between two words stays a space between them
          whitespace: 'preserve',
          nodeTransforms: [speak],
        },
      },
    }),
    early(),
  ],
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

/** Has the page fetch the app at once, which begins only when its words are there (src/main.ts). */
function early(): Plugin {
  return {
    name: 'early',
    transformIndexHtml: {
      order: 'post',
      handler(_, { bundle }) {
        const app = Object.values(bundle ?? {}).find((c) => c.type === 'chunk' && c.name === 'start')
        if (app?.type !== 'chunk') return []
        const link = (rel: string, href: string) => ({
          tag: 'link',
          attrs: { rel, crossorigin: true, href: `/${href}` },
        })
        return [
          ...[app.fileName, ...app.imports].map((f) => link('modulepreload', f)),
          ...[...(app.viteMetadata?.importedCss ?? [])].map((f) => link('stylesheet', f)),
        ].map((l) => ({ ...l, injectTo: 'head' as const }))
      },
    },
  }
}
