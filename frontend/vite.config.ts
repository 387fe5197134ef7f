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
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'vue', test: /node_modules\/(@vue|vue|vue-router|pinia|@tanstack)\// },
            { name: 'ol', test: /node_modules\/(ol|rbush|earcut|quickselect)\// },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8610' } },
})
