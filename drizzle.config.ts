import { defineConfig } from 'drizzle-kit';

export default defineConfig({ dialect: 'turso', schema: './src/store/schema.ts', out: './src/store/migrations' });
