/** How `npm run db:generate` writes migrations. */
export default {
  dialect: 'postgresql',
  schema: './packages/server/src/store/schema.ts',
  out: './packages/server/drizzle',
  casing: 'snake_case',
};
