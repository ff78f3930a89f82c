import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';
import { fileURLToPath } from 'node:url';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // Hosts and origins are checked before a request gets here (src/cli/front-door.ts), against the list of the configuration.
  security: { checkOrigin: false },
  // Licences stand in full beside each package; hundreds of copies of them are not sent to every bench.
  vite: {
    plugins: [tailwindcss()],
    esbuild: { legalComments: 'none' },
    resolve: {
      alias: {
        // The package's entry is one CommonJS file, which is sent whole; of its modules only what is used is.
        'ml-matrix': fileURLToPath(new URL('./node_modules/ml-matrix/src/index.js', import.meta.url)),
        'react-dom/server': fileURLToPath(new URL('./src/server/whole-markup.ts', import.meta.url)),
      },
    },
  },
});
