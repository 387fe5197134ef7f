import vue from '@vitejs/plugin-vue'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { defineConfig, type Plugin } from 'vite'

/** Scripts and styles beside themselves in gzip, as they go over the wire. */
const zipped: Plugin = {
  name: 'zipped',
  apply: 'build',
  closeBundle() {
    const folder = new URL('dist/assets/', import.meta.url)
    for (const name of readdirSync(folder).filter((each) => /\.(js|css)$/.test(each)))
      writeFileSync(
        new URL(`${name}.gz`, folder),
        gzipSync(readFileSync(new URL(name, folder)), { level: 9 }),
      )
  },
}

export default defineConfig({
  // What stands on two lines in a template keeps the space between, as in any HTML.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), zipped],
  build: {
    // A stage opens on few files: one style sheet, and what most stages share in two pieces.
    cssCodeSplit: false,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'vue', test: /node_modules\/(@vue|vue|vue-router|pinia|@tanstack)\/|export-helper/ },
            { name: 'ol', test: /node_modules\/(ol|rbush|earcut|quickselect)\// },
            { name: 'api', test: /src\/(api|assets)\/|openapi-fetch/, minShareCount: 4 },
            { name: 'base', test: /node_modules\//, minShareCount: 12 },
            { name: 'controls', test: /node_modules\//, minShareCount: 3 },
            { name: 'desk', test: /src\/desk\//, minShareCount: 4 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8610' } },
})
