/** A finished skin as its game and its subject see it: what is wrong with it, and pictures of it; runs in threads. */
import { shownOf } from '@wet-lacquer/core/bay/report.ts';
import { wireOf, wireShown, type Square } from '@wet-lacquer/core/delivery/wireIn.ts';
import type { Skin } from '@wet-lacquer/core/exchange/skin.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { Subject, Template } from '@wet-lacquer/core/livery/template.ts';
import { flipRows, type Image8 } from '@wet-lacquer/core/raster/image.ts';
import { texelsOf, textureKindOf } from '../textures/index.ts';
import { pictureOfReport } from './bay.ts';

export interface SkinLook {
  findings: { level: 'stop' | 'advice'; says: string }[];
  /** PNG, and what each shows. */
  pictures: { shows: string; png: Uint8Array }[];
}

/** Of the model, where a game shows it in three dimensions. */
const VIEWS = [
  { shows: 'from ahead', heading: 42, elevation: 16 },
  { shows: 'from behind', heading: 215, elevation: 22 },
] as const;
/** Texels of one picture that are looked at. */
const MOST_TEXELS = 8192 * 8192;

/**
 * @param files the skin's, path in the game's folder to bytes; a package's, inside it
 * @param template what it is for, where that is here
 */
export async function skinLook(task: {
  skin: Skin;
  files: ReadonlyMap<string, Uint8Array>;
  /** The same as the game has it in its folder: of a package, the package. */
  folder: ReadonlyMap<string, Uint8Array>;
  template: Template | null;
  draw: boolean;
}): Promise<SkinLook> {
  const { skin, template } = task;
  const findings: SkinLook['findings'] = [];
  const pictures: SkinLook['pictures'] = [];
  const left = await lookAtSheets(skin, task.files, template, findings);
  const game = bayGame(skin.spec.game);
  if (game) {
    const { keys, ignored } = game.list(task.folder);
    const wanted = shownOf(keys, skin.particulars.key ?? null);
    if (wanted === undefined) {
      const why = ignored.map((one) => `${one.file}: ${one.why}`).slice(0, 3);
      findings.push({ level: 'stop', says: `${game.name} finds no skin in it. ${why.join(' ')}`.trim() });
    } else {
      const report = game.load(task.folder, wanted, template?.mesh ?? null);
      for (const { file, status, why } of [...report.sheets, ...report.plateTextures])
        if (status === 'missing' || status === 'refused')
          findings.push({ level: 'stop', says: `${game.name} does not show ${file}: ${why}` });
      for (const { file, why } of report.ignored) findings.push({ level: 'advice', says: `${file}: ${why}` });
      if (task.draw && template) {
        // One that draws its own picture has one side.
        for (const { shows, ...look } of game.draw ? VIEWS.slice(0, 1) : VIEWS)
          pictures.push({ shows, png: await pictureOfReport(game, report, template, new Map(), look) });
      }
    }
  }
  if (template) findings.push(...otherSheets(skin, template), ...left);
  return { findings, pictures };
}

/**
 * Looks at the colour of each sheet, one after another: one picture is held at a time, however many there are. What cannot be read, or is of
 * another shape, is told.
 * @returns where wire was left
 */
async function lookAtSheets(
  { files, sheets, spec }: Skin,
  bytes: ReadonlyMap<string, Uint8Array>,
  template: Template | null,
  findings: SkinLook['findings'],
): Promise<SkinLook['findings']> {
  const left: SkinLook['findings'] = [];
  for (const { name, sheet, pattern } of files) {
    if (sheet?.map !== 'colour') continue;
    const own = sheets.find(({ key }) => key === sheet.key);
    const held = bytes.get(name);
    if (!own || !held) continue;
    try {
      const kind = textureKindOf(held, name);
      const stored = await texelsOf(held, kind);
      if (stored.width * stored.height > MOST_TEXELS) continue;
      const rule = spec.files.find((file) => file.name === pattern);
      const image = rule?.flip ? flipRows(stored) : stored;
      const { width, height } = image;
      if (width * own.height !== height * own.width)
        findings.push({
          level: 'stop',
          says: `${name} is ${width} x ${height}, and the sheet is ${own.width} x ${own.height}: it is not a picture of it.`,
        });
      else if (template) left.push(...wireLeft(template, sheet.key, name, image));
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      findings.push({ level: 'stop', says: `${name} cannot be read: ${error.message}` });
    }
  }
  return left;
}

/** Sheets that it is said to be for and that its subject does not have, or in another shape. */
function otherSheets({ sheets, subject }: Skin, template: Template): SkinLook['findings'] {
  return sheets.flatMap(({ key, width, height }) => {
    const own = template.sheets.find((sheet) => sheet.key === key);
    if (own && own.width * height === own.height * width) return [];
    const why = own
      ? `its ${own.name} is ${own.width} x ${own.height}, not ${width} x ${height}`
      : `it has no “${key}”`;
    return [{ level: 'stop' as const, says: `This is not for ${subject.name} as it is here: ${why}.` }];
  });
}

/** Whether the wire that one paints by was left in a texture. */
function wireLeft(template: Template, sheet: string, file: string, image: Image8): SkinLook['findings'] {
  if (!template.sheets.some(({ key }) => key === sheet)) return [];
  const shown = wireShown(wireOf(atSize(template, sheet, image), sheet), (square) => squareOf(image, square));
  if (shown === null) return [];
  const share = Math.round(100 * shown);
  return [{ level: 'stop', says: `${file} shows ${share} % of the lines of the layout: the wire was left in it.` }];
}

/** The subject with a sheet of the size that a file has. */
const atSize = (template: Template, sheet: string, { width, height }: Image8): Subject => ({
  ...template,
  sheets: template.sheets.map((one) => (one.key === sheet ? { ...one, width, height } : one)),
});

/** A square of a picture as 16-bit premultiplied RGBA; what lies past its sides is clear. */
function squareOf({ width, height, data }: Image8, square: Square): Uint16Array {
  const out = new Uint16Array(square.width * square.height * 4);
  for (let y = 0; y < square.height; y++) {
    for (let x = 0; x < square.width; x++) {
      const [sx, sy] = [square.x + x, square.y + y];
      if (sx < 0 || sy < 0 || sx >= width || sy >= height) continue;
      const [from, to] = [(sy * width + sx) * 4, (y * square.width + x) * 4];
      const alpha = data[from + 3];
      for (let c = 0; c < 3; c++) out[to + c] = Math.round((data[from + c] * alpha * 257) / 255);
      out[to + 3] = alpha * 257;
    }
  }
  return out;
}
