import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { degrees, length, Paint, texels } from '../../livery/paint.ts';
import { words } from '../../livery/words.ts';
import { round, shortNumber, turnedWithin, TURN, type LayerData, type MakerPlace } from '../data.ts';

export const LetteringLayer = z.strictObject({
  kind: z.literal('lettering'),
  ...layerBase,
  /** May hold {particulars}, replaced when drawn. */
  text: words(200),
  font: z.string().max(60),
  /** Height of a capital letter. */
  size: length,
  x: texels,
  y: texels,
  turn: degrees,
  paint: Paint,
  outline: z.strictObject({ paint: Paint, width: z.number().min(0).max(512) }).nullable(),
  /** Added between letters, in percent of the size. */
  spacing: z.number().min(-50).max(400),
  /** Degrees from upright, to the right. */
  slant: z.number().min(-45).max(45),
  mirrored: z.boolean(),
});

/** Of the room around a place, how high a number and a line of text are in it. */
const NUMBER_ROOM = 1;
const LINE_ROOM = 0.36;

const begin =
  (text: string, share: number) =>
  ({ x, y, sheet, mark, paint }: MakerPlace) => ({
    text,
    font: share > 0.05 ? 'russo-one' : 'barlow-condensed',
    size: Math.max(1, Math.round(mark ? mark.radius * (share > 0.05 ? NUMBER_ROOM : LINE_ROOM) : sheet.height * share)),
    x: mark?.x ?? x,
    y: mark?.y ?? y,
    turn: mark?.turn ?? 0,
    paint: paint(3),
    outline: null,
    spacing: 4,
    slant: 0,
    mirrored: mark?.mirrored ?? false,
  });

export const lettering: LayerData<z.infer<typeof LetteringLayer>> = {
  name: 'Lettering',
  paints: ({ paint, outline }) => (outline ? [paint, outline.paint] : [paint]),
  frame: ({ x, y, size, turn }, width) =>
    width === null ? null : { x, y, width: Math.max(width, 0.1) * size, height: size, turn },
  sides: () => 'together',
  sized: (_layer, _width, height) => ({ size: round(height) }),
  turns: 'turn',
  mirrored: ({ turn, mirrored }, { across, readable }) => ({
    turn: turnedWithin(across === 'y' && !readable ? 180 - turn : -turn),
    mirrored: readable ? mirrored : !mirrored,
  }),
  handles: () => [],
  place: () => [[{ key: 'size', label: 'size', min: 0.25, max: 32768 }, TURN]],
  colours: [{ is: 'paint', key: 'paint', label: 'fill' }, 'outline'],
  numbers: ({ size, turn }) => `size ${shortNumber(size)} ${shortNumber(turn)}°`,
  makers: [
    {
      key: 'lettering',
      phase: 'Marks',
      name: 'Lettering',
      what: 'a line of text',
      make: begin('LETTERING', 0.035),
    },
    {
      key: 'number',
      phase: 'Marks',
      name: 'Number',
      what: 'bound to the livery’s number',
      make: begin('{number}', 0.09),
    },
  ],
};
