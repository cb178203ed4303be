/** What liveries are made of, class by class: colour, alpha, and colour weighted by alpha, of files as Pillow decodes them. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { BenchPicture } from './pictures.ts';

/** dB of the colour, of the alpha, and of the colour with each texel counted by its alpha; 60 at most. */
type Quality = readonly [colour: number, alpha: number, weighted: number];

export interface ClassResult {
  of: string;
  name: string;
  ours: Quality;
  theirs: Quality;
}

/** @param dds a file of the picture's size @param raw where its texels may be put */
export function qualityOf(dds: string, { image }: BenchPicture, raw: string): Quality {
  const script =
    "import sys; from PIL import Image; open(sys.argv[2], 'wb').write(Image.open(sys.argv[1]).convert('RGBA').tobytes())";
  execFileSync('/usr/bin/python3', ['-c', script, dds, raw]);
  const [decoded, source] = [readFileSync(raw), image.data];
  let [colour, alpha, weighted, weights] = [0, 0, 0, 0];
  for (let i = 0; i < source.length; i += 4) {
    let own = 0;
    for (let c = 0; c < 3; c++) own += (source[i + c] - decoded[i + c]) ** 2;
    colour += own;
    weighted += own * source[i + 3];
    weights += source[i + 3];
    alpha += (source[i + 3] - decoded[i + 3]) ** 2;
  }
  const texels = source.length / 4;
  const db = (square: number) => Math.min(60, 10 * Math.log10(65025 / Math.max(square, 1e-9)));
  return [db(colour / texels / 3), db(alpha / texels), db(weighted / Math.max(1, weights) / 3)];
}

const difference = ({ ours, theirs }: ClassResult, i: 0 | 1 | 2) => ours[i] - theirs[i];
const signed = (value: number) => `${value >= 0 ? '+' : ''}${value.toFixed(2)}`;

/** A line a class: the mean differences to the reference, and the picture that comes off worst in any of the three. */
export function classTable(step: string, results: readonly ClassResult[]): string[] {
  return [...new Set(results.map(({ of }) => of))].map((of) => {
    const own = results.filter((one) => one.of === of);
    const mean = ([0, 1, 2] as const).map((i) => own.reduce((sum, one) => sum + difference(one, i), 0) / own.length);
    const worst = own
      .flatMap((one) =>
        (['colour', 'alpha', 'weighted'] as const).map(
          (what, i) => [`${one.name} (${what})`, difference(one, i as 0 | 1 | 2)] as const,
        ),
      )
      .reduce((a, b) => (b[1] < a[1] ? b : a));
    return `| ${step} | ${of} | ${mean.map(signed).join(' | ')} | ${worst[0]} ${signed(worst[1])} |`;
  });
}

export const CLASS_HEAD = [
  '| step | class | colour, dB | alpha, dB | colour weighted by alpha, dB | least good |',
  '| --- | --- | --- | --- | --- | --- |',
];
