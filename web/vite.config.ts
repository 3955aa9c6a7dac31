import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression } from 'vite-plugin-compression2'

const api = process.env.SATCHEL_API ?? 'http://127.0.0.1:4861'

export default defineConfig({
  // made once here, so that the server only has to send them
  plugins: [
    react(),
    tailwindcss(),
    compression({ algorithms: ['brotliCompress', 'gzip'], include: /\.(js|css|html|svg)$/, threshold: 1000 }),
  ],
  worker: { format: 'es' },
  // fonts stay files: the content policy takes none from data addresses
  build: { assetsInlineLimit: 0, target: 'es2023', sourcemap: true, chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': { target: api } } },
})
