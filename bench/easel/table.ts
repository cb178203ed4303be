/** Lines of the table. */
export const ms = (value: number): string => `${value.toFixed(value < 10 ? 2 : 0)} ms`;
export const seconds = (value: number): string => `${(value / 1000).toFixed(2)} s`;

export function row(what: string, wanted: string, measured: string): void {
  console.log(`${what.padEnd(62)} ${wanted.padEnd(16)} ${measured}`);
}
