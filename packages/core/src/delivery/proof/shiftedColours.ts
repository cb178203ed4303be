import { ciede2000, labOfSrgb8 } from '../../colour/ciede2000.ts';
import { hexOfRgb, rgbOfHex, type SrgbRgb } from '../../colour/hex.ts';
import { encodeImage, decodeImage } from '../../texture/encode.ts';
import { FORMATS, type FormatKey } from '../../texture/formats/index.ts';
import type { ProofFinding, ProofInput } from './finding.ts';

/** CIEDE2000 from which the same scheme colour looks like another one beside itself (common practice, no source: 1). */
const LIMIT = 1;

/** What a flat area of a colour comes out as. */
export function asEncoded(colour: SrgbRgb, format: FormatKey): SrgbRgb {
  const data = new Uint8Array(64);
  for (let i = 0; i < 64; i += 4) data.set([...colour, 255], i);
  const block = { width: 4, height: 4, data };
  const back = decodeImage(encodeImage(block, format, { effort: 'normal' }), format, 4, 4).data;
  return [back[0], back[1], back[2]];
}

export const differenceOf = (a: SrgbRgb, b: SrgbRgb): number =>
  ciede2000(labOfSrgb8(a[0], a[1], a[2]), labOfSrgb8(b[0], b[1], b[2]));

/** The colour within three steps a channel whose encoding comes nearest to the one that is wanted. */
export function nearestAsEncoded(wanted: SrgbRgb, format: FormatKey): { colour: SrgbRgb; difference: number } {
  let best = { colour: wanted, difference: differenceOf(wanted, asEncoded(wanted, format)) };
  for (let i = 0; i < 343; i++) {
    const offset = [(i % 7) - 3, (Math.floor(i / 7) % 7) - 3, Math.floor(i / 49) - 3];
    const colour = wanted.map((v, c) => Math.max(0, Math.min(255, v + offset[c]))) as unknown as SrgbRgb;
    const difference = differenceOf(wanted, asEncoded(colour, format));
    if (difference < best.difference - 1e-9) best = { colour, difference };
  }
  return best;
}

/** Scheme colours that come out as another colour in this format: sheets in different formats then no longer match. */
export function shiftedColours({ livery, encoded }: ProofInput): ProofFinding[] {
  const format = FORMATS[encoded.format];
  if (format.channels.length < 3) return [];
  return livery.scheme.flatMap((colour) => {
    const wanted = rgbOfHex(colour.hex);
    const got = asEncoded(wanted, encoded.format);
    const difference = differenceOf(wanted, got);
    if (difference <= LIMIT) return [];
    const nearest = nearestAsEncoded(wanted, encoded.format);
    const better = nearest.difference < difference - 0.1;
    return [
      {
        key: `colour ${colour.id}`,
        title: `${colour.name} shifts in ${format.name}`,
        detail:
          `${colour.hex} comes out as ${hexOfRgb(got)}, ${difference.toFixed(1)} CIEDE2000 away.` +
          (better
            ? ` ${hexOfRgb(nearest.colour)} would come out ${nearest.difference < 0.05 ? 'right' : `within ${nearest.difference.toFixed(1)}`}.`
            : ' No colour near it comes out better.'),
        fixes: better
          ? [
              {
                label: `Make it ${hexOfRgb(nearest.colour)}`,
                edit: { do: 'set-colour' as const, colour: colour.id, set: { hex: hexOfRgb(nearest.colour) } },
              },
            ]
          : [],
      },
    ];
  });
}
