import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // Endpoints answer foreign origins themselves, in the same shape as every other refusal.
  security: { checkOrigin: true },
  vite: { plugins: [tailwindcss()] },
});
