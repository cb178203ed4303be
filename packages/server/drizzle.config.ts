import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: './packages/server/src/store/schema.ts',
  out: './packages/server/drizzle',
  casing: 'snake_case',
});
