import { readFileSync } from 'node:fs'
import { fileURLToPath, URL } from 'node:url'
import type { Plugin } from 'vite'
import { defineConfig } from 'vitest/config'
import { transformAsync } from '@babel/core'
import { lingui } from '@lingui/vite-plugin'
import react from '@vitejs/plugin-react'
import { VitePWA } from 'vite-plugin-pwa'
import tailwindcss from '@tailwindcss/vite'

const stated = readFileSync(new URL('../src/pronostico/__init__.py', import.meta.url), 'utf8')
const version = /__version__ = "(.+)"/.exec(stated)?.[1]
if (version === undefined) throw new Error('src/pronostico/__init__.py states no version')

/** Sentences of the pages become keys of the message catalogues; the compiler leaves all else as it is. */
function sentences(): Plugin {
  return {
    name: 'sentences',
    enforce: 'pre',
    transform: {
      filter: { id: /\/src\/.*\.tsx?$/, code: /@lingui\/(core|react)\/macro/ },
      handler: (code, id) =>
        transformAsync(code, {
          filename: id.split('?')[0],
          plugins: ['@lingui/babel-plugin-lingui-macro'],
          parserOpts: { plugins: ['jsx', 'typescript'] },
          sourceMaps: true,
          babelrc: false,
          configFile: false,
        }).then((made) => made && { code: made.code ?? '', map: made.map }),
    },
  }
}

export default defineConfig({
  define: { VERSION: JSON.stringify(version) },
  plugins: [
    sentences(),
    // A language that is offered is whole.
    lingui({ failOnMissing: true, failOnCompileError: true }),
    react(),
    tailwindcss(),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src',
      filename: 'sw.ts',
      // The page registers it, and says when a new version is ready: the policy allows no script in the page.
      injectRegister: false,
      injectManifest: {
        globPatterns: ['**/*.{js,css,html,woff2,png}'],
        // A test holds what a device keeps of the application.
        maximumFileSizeToCacheInBytes: 3_000_000,
      },
      manifest: {
        name: 'Pronostico',
        short_name: 'Pronostico',
        description: 'Valve clearances: what was measured, how it drifts, what comes next',
        start_url: '/',
        display: 'standalone',
        background_color: '#f4ede0',
        theme_color: '#f4ede0',
        icons: [
          { src: '/icons/192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icons/512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icons/512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: {
    host: '127.0.0.1',
    port: 5173,
    proxy: { '/api': 'http://127.0.0.1:8341' },
    // The handbook reads texts of docs.
    fs: { allow: ['..'] },
  },
  test: { environment: 'node', include: ['src/**/*.test.ts'], setupFiles: ['vitest.setup.ts'] },
  build: {
    target: 'es2022',
    outDir: fileURLToPath(new URL('../src/pronostico/api/static', import.meta.url)),
    emptyOutDir: true,
    // One script for the one page: it comes from this machine, and a test holds its size.
    chunkSizeWarningLimit: 1000,
  },
})
