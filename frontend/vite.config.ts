import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { brotli, shell } from './shell'

const BASE =
  /node_modules\/(react|react-dom|scheduler|@tanstack|openapi-fetch|@radix-ui\/(primitive|react-(slot|compose-refs|context|primitive|id|presence|use-.*)))\/|src\/parts\/fetched/

export default defineConfig({
  plugins: [react(), tailwindcss(), shell(), brotli()],
  build: {
    rolldownOptions: {
      output: {
        // What most places share goes in one file: many small ones weigh more by what is said about each.
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [
            // What every other file stands on, so that none waits for the first one.
            { name: 'base', test: BASE },
            { name: 'common', minShareCount: 5, test: /frontend\/src\/|node_modules\/lucide-react/ },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8710' } },
})
