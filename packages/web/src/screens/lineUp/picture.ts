/** A line-up as one picture, to show around. */
import type { LineUp } from '@wet-lacquer/core/surface/lineUp.ts';
import { context2d } from '../../parts/context2d.ts';
import type { Stage } from '../../parts/stage.ts';
import { saveFile } from '../../lib/saveFile.ts';
import { ROOMS } from '../../theme.ts';

/** Pixels across. */
const WIDTH = 4096;
/** At least so much wider than high. */
const WIDE = 16 / 9;
/** Height of the names, of the picture's width. */
const LETTERS = 0.012;

/** Saves what a stage shows, 4096 pixels wide, with each name under what it belongs to: PNG. */
export async function keepPicture(
  name: string,
  stage: Stage,
  names: readonly string[],
  { mesh: { positions }, vertices }: Pick<LineUp, 'mesh' | 'vertices'>,
): Promise<void> {
  const { canvas, seenAt } = stage.picture(WIDTH, WIDE);
  const context = context2d(canvas);
  const size = Math.round(WIDTH * LETTERS);
  context.font = `600 ${size}px Barlow, sans-serif`;
  context.textAlign = 'center';
  context.textBaseline = 'top';
  for (const [n, words] of names.entries()) {
    const { first, count } = vertices[n];
    let [left, right, foot] = [Infinity, -Infinity, Infinity];
    for (let o = first * 3; o < (first + count) * 3; o += 3) {
      const at = seenAt([positions[o], positions[o + 1], positions[o + 2]]);
      if (!at) continue;
      left = Math.min(left, at.x);
      right = Math.max(right, at.x);
      foot = Math.min(foot, at.y);
    }
    if (left > right) continue;
    const half = context.measureText(words).width / 2 + size / 2;
    const x = Math.min(canvas.width - half, Math.max(half, ((left + right + 2) / 4) * canvas.width));
    const y = Math.min(canvas.height - size * 1.6, ((1 - foot) / 2) * canvas.height + size);
    context.fillStyle = ROOMS.dark.panel;
    context.fillRect(x - half, y - size * 0.25, half * 2, size * 1.5);
    context.fillStyle = ROOMS.dark.text;
    context.fillText(words, x, y);
  }
  const file = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
  if (file) saveFile(`${name.replaceAll(/[\\/:*?"<>|]+/g, ' ').trim() || 'line-up'}.png`, file, 'image/png');
}
