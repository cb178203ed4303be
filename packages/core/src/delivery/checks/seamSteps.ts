import { oklabOf, type Oklab } from '../../colour/oklab.ts';
import { renderCoarse } from '../../compose/renderSheet.ts';
import { layersOf } from '../../livery/livery.ts';
import { seamSamples, type SeamSample, type SeamSide } from '../../surface/seams.ts';
import { diagonalOf } from '../../surface/triangles.ts';
import { long, minus } from '../../surface/vectors.ts';
import type { Check, CheckInput, Finding } from '../finding.ts';

/** Places along the seams that are looked at, and the samples of a sheet's longer side that they are looked at in. */
const [PLACES, SIDE] = [2400, 512];
/** How far beside the seam, samples. */
const INSIDE = 1.5;
/** A step in OKLab that is seen, and what is one colour. */
const [STEP, ALIKE] = [0.1, 0.04];
/** How far along the seam art that does not meet goes on, of the model's diagonal. */
const NEAR = 0.05;
/** What a seam shows at least: of the diagonal, and of its own length. */
const [LEAST, SHARE] = [0.01, 0.1];
/** So many seams are named. */
const NAMED = 4;

/**
 * Two parts may well be of two colours. Art that does not meet is told from that by its colour: it is there on the other side too, a little
 * further along.
 */
export const seamSteps: Check = {
  key: 'seam-steps',
  subject: 'art that meets at seams',
  why: 'A stripe that is cut to pieces for the sheet has to meet itself again on the model; where it does not, the seam shows.',
  needsModel: true,
  run(input) {
    const { template, livery } = input;
    const worn = template.sheets.filter(({ key }) => layersOf(livery, key).some(({ hidden }) => !hidden));
    if (worn.length === 0 || template.boards) return [];
    const step = Math.max(1, ...worn.map(({ width, height }) => Math.ceil(Math.max(width, height) / SIDE)));
    const samples = seamSamples(template, PLACES, INSIDE * step);
    const colourAt = looked(input, step);
    const seams = new Map<string, { sample: SeamSample; colours: [Oklab, Oklab] }[]>();
    for (const sample of samples) {
      const [a, b] = sample.sides;
      const [one, two] = [colourAt(a), colourAt(b)];
      if (!one || !two) continue;
      const straight = a.part <= b.part;
      const key = straight ? `${a.part} ${b.part}` : `${b.part} ${a.part}`;
      const held = seams.get(key) ?? [];
      held.push({ sample, colours: straight ? [one, two] : [two, one] });
      seams.set(key, held);
    }
    const diagonal = diagonalOf(template.mesh);
    const found = [...seams.values()].flatMap((along) => {
      const all = along.reduce((sum, { sample }) => sum + sample.length, 0);
      let [broken, worst] = [0, along[0].sample];
      for (const { sample, colours } of along) {
        if (differ(...colours) < STEP) continue;
        const [one, two] = colours;
        const goesOn = along.some(
          (other) =>
            long(minus(other.sample.place, sample.place)) < NEAR * diagonal &&
            (differ(other.colours[1], one) < ALIKE || differ(other.colours[0], two) < ALIKE),
        );
        if (!goesOn) continue;
        if (broken === 0) worst = sample;
        broken += sample.length;
      }
      return broken > LEAST * diagonal && broken > SHARE * all ? [{ broken, all, worst }] : [];
    });
    return found
      .sort((a, b) => b.broken - a.broken)
      .slice(0, NAMED)
      .map(({ broken, all, worst }): Finding => {
        const names = [...new Set(worst.sides.map(({ part }) => template.parts.find(({ key }) => key === part)!.name))];
        const where = names.length > 1 ? `between ${names.join(' and ')}` : `of ${names[0]}`;
        return {
          check: this.key,
          level: 'advice',
          title: `Art does not meet at the seam ${where}`,
          detail: `Over ${broken.toFixed(2)} m of ${all.toFixed(2)} m it makes a step. On the model a layer goes over seams by itself.`,
          show: { sheet: worst.sides[0].sheet },
        };
      });
  },
};

const differ = (a: Oklab, b: Oklab): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** Reads the colour map of every sheet, drawn coarsely when it is first asked for; null: nothing is painted there. */
function looked({ livery, template, sources }: CheckInput, step: number): (side: SeamSide) => Oklab | null {
  const pictures = new Map<string, ReturnType<typeof renderCoarse>>();
  return ({ sheet: key, x, y }) => {
    const sheet = template.sheets.find((one) => one.key === key)!;
    const picture = pictures.get(key) ?? renderCoarse(livery, key, 'colour', sheet, step, sources);
    pictures.set(key, picture);
    const u = Math.min(picture.width - 1, Math.max(0, Math.floor(x / step)));
    const v = Math.min(picture.height - 1, Math.max(0, Math.floor(y / step)));
    const i = (v * picture.width + u) * 4;
    const { data } = picture;
    if (data[i + 3] < 128) return null;
    return oklabOf(data[i] / 255, data[i + 1] / 255, data[i + 2] / 255);
  };
}
