import { defineConfig } from 'drizzle-kit'

export default defineConfig({
  dialect: 'postgresql',
  schema: './src/db/schema/all.ts',
  out: './drizzle',
  casing: 'snake_case',
})
