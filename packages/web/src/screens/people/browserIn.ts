/** What to call a browser, from what it says of itself. Names are those that browsers give themselves; others are shown as they are. */
export function browserIn(said: string): string {
  const last = said
    .match(/[A-Z][A-Za-z]+\/[\d.]+/g)
    ?.at(-1)
    ?.split('/')[0];
  const where = /\(([^;)]+)/.exec(said)?.[1];
  return last ? `${last}${where ? ` on ${where}` : ''}` : said || 'a browser';
}
