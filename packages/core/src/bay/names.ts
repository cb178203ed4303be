/** Names as games compare them: to the character. */

/** Whether two names differ by case only, or by one character more, less or other. */
export function isNearMiss(expected: string, found: string): boolean {
  if (expected === found) return false;
  const [a, b] = [expected.toLowerCase(), found.toLowerCase()];
  if (a === b) return true;
  let start = 0;
  while (start < a.length && a[start] === b[start]) start++;
  let end = 0;
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++;
  return Math.max(a.length, b.length) - start - end <= 1;
}

const shown = (character: string) => (character === ' ' ? 'a space' : `"${character}"`);

/** Where a found name parts from the expected one. */
export function difference(expected: string, found: string): string {
  const at = [...expected].findIndex((ch, i) => ch !== found[i]);
  const position = at < 0 ? expected.length : at;
  const [want, have] = [expected[position], found[position]];
  if (!want) return `it has ${shown(have)} too many at the end`;
  if (!have) return `${shown(want)} is missing at the end`;
  return `character ${position + 1} is ${shown(have)} and should be ${shown(want)}`;
}

/** Why a file is passed over: it is nearly one that the game looks for, or it is of no use. */
export function whyIgnored(name: string, expected: readonly string[]): string {
  const meant = expected.find((one) => isNearMiss(one, name));
  return meant
    ? `Ignored: the game looks for ${meant}; ${difference(meant, name)}.`
    : 'Ignored: the game has no use for it.';
}

/** Names of the entries of a folder right below `root`, folders or files. */
export function childrenOf(paths: Iterable<string>, root: string): string[] {
  const found = new Set<string>();
  for (const path of paths) if (path.startsWith(root)) found.add(path.slice(root.length).split('/')[0]);
  return [...found].sort();
}
