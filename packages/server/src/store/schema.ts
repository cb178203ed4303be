/** Every table. What refers to what goes one way: from the exchange to people, from both to the work. */
export * from './schema/exchange.ts';
export * from './schema/people.ts';
export * from './schema/work.ts';
