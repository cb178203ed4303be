/** What is written beside the colour boxes of a layered file. */
import { nodesIn, type LayeredFile } from '../layered/layered.ts';
import { cutTo } from '../livery/words.ts';

interface Box {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Lettering farther from its box than so many of the box's heights belongs to something else. */
const NEAR = 6;

/**
 * The lettering that lies nearest to each box, left or right of it in its rows, or close above or below it: its layer's name, which is its text
 * as long as nobody changed it. Each line of lettering names one box.
 * @returns for each box its name; null where nothing is written
 */
export function besideBoxes(file: Pick<LayeredFile, 'nodes'>, boxes: readonly Box[]): (string | null)[] {
  const lines = nodesIn(file.nodes).flatMap(({ node }) => {
    if (node.kind !== 'layer' || node.content !== 'text' || !node.image || !node.name.trim()) return [];
    const { width, height } = node.image;
    return [{ name: cutTo(node.name.trim(), 60), left: node.x, top: node.y, width, height }];
  });
  const gap = (from: number, size: number, other: number, wide: number) =>
    Math.max(0, other - (from + size), from - (other + wide));
  const pairs = boxes
    .flatMap((box, b) =>
      lines.map((line, l) => {
        const across = gap(box.left, box.width, line.left, line.width);
        const down = gap(box.top, box.height, line.top, line.height);
        // Beside a box is likelier than above or below it.
        return {
          b,
          l,
          far: across + 3 * down,
          near: across + down <= NEAR * box.height && (across === 0 || down === 0),
        };
      }),
    )
    .filter(({ near }) => near)
    .sort((p, q) => p.far - q.far);
  const names: (string | null)[] = boxes.map(() => null);
  const taken = new Set<number>();
  for (const { b, l } of pairs) {
    if (names[b] !== null || taken.has(l)) continue;
    names[b] = lines[l].name;
    taken.add(l);
  }
  return names;
}
