import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  // What stands on two lines in a template keeps the space between, as in any HTML.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
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
