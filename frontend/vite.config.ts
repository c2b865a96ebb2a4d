import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vitest/config'
import react from '@vitejs/plugin-react'
import tailwindcss from '@tailwindcss/vite'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: {
    host: '127.0.0.1',
    port: 5173,
    proxy: { '/api': 'http://127.0.0.1:8341' },
    // The handbook reads texts of docs.
    fs: { allow: ['..'] },
  },
  test: { environment: 'node', include: ['src/**/*.test.ts'] },
  build: {
    target: 'es2022',
    outDir: fileURLToPath(new URL('../src/pronostico/api/static', import.meta.url)),
    emptyOutDir: true,
    // One script for the one page: it comes from this machine, and a test holds its size.
    chunkSizeWarningLimit: 1000,
  },
})
