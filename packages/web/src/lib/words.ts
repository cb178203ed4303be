const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });

/** "today, 14:06", "3 Nov, 09:12". */
export function dateInWords(iso: string): string {
  const then = new Date(iso);
  const today = new Date().toDateString() === then.toDateString();
  return `${today ? 'today' : day.format(then)}, ${time.format(then)}`;
}

/** 1.3 GiB, 1.3 MiB, 612 B. */
export function size(bytes: number): string {
  if (bytes < 1024) return `${bytes} B`;
  if (bytes < 1024 * 1024) return `${(bytes / 1024).toFixed(1)} KiB`;
  if (bytes < 1024 ** 3) return `${(bytes / 1024 / 1024).toFixed(1)} MiB`;
  return `${(bytes / 1024 ** 3).toFixed(1)} GiB`;
}

export const count = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** A size in texels: one number where it is square. */
export const sidesOf = ({ width, height }: { width: number; height: number }): string =>
  width === height ? String(width) : `${width} x ${height}`;
