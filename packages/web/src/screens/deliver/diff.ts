export interface DiffLine {
  kind: 'same' | 'in' | 'out';
  text: string;
}

/** The lines that go out and come in, by the longest common subsequence. Sidecars are short: the table stays small. */
export function diffLines(before: string, after: string): DiffLine[] {
  const [a, b] = [before, after].map((text) => text.replace(/\n$/, '').split('\n'));
  const common = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1));
  for (let i = a.length - 1; i >= 0; i--) {
    for (let j = b.length - 1; j >= 0; j--)
      common[i][j] = a[i] === b[j] ? common[i + 1][j + 1] + 1 : Math.max(common[i + 1][j], common[i][j + 1]);
  }
  const lines: DiffLine[] = [];
  let [i, j] = [0, 0];
  while (i < a.length || j < b.length) {
    if (i < a.length && j < b.length && a[i] === b[j]) {
      lines.push({ kind: 'same', text: a[i++] });
      j++;
    } else if (i < a.length && (j === b.length || common[i + 1][j] >= common[i][j + 1]))
      lines.push({ kind: 'out', text: a[i++] });
    else lines.push({ kind: 'in', text: b[j++] });
  }
  return lines;
}
