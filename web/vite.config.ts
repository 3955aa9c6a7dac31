import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression } from 'vite-plugin-compression2'

/** What the page of a person and that of a curator both begin with. */
const BASE =
  /node_modules\/(?:react|react-dom|scheduler|@tanstack\/(?:query-core|react-query)|zustand|hono\/dist\/client|get-nonce)\/|src\/(?:api\/|components\/(?:states|button|fetched|format|behaviour-mark|help-text|field)\.|data\/help\.|features\/shell\/theme\.)/

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
  // by its manifest the server knows what a person's page is made of
  build: {
    manifest: true,
    assetsInlineLimit: 0,
    target: 'es2023',
    sourcemap: true,
    chunkSizeWarningLimit: 900,
    // what every page needs comes in one piece: forty small ones take a slow phone longer than the code in them
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: 'base', test: BASE }] } } },
  },
  server: { proxy: { '/api': { target: api } } },
})
