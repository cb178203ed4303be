import { InputError } from '@wet-lacquer/core/errors.ts';
import { compositeLayered } from '@wet-lacquer/core/layered/composite.ts';
import { Pool } from '@wet-lacquer/node/threads/pool.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { canBe, fileKind } from '@wet-lacquer/core/kinds/index.ts';
import { agreementOf, readLayered } from '@wet-lacquer/node/threads/understand.ts';
import { pictureBytes, readBytes, writeWhole } from '../files.ts';
import { openLivery } from '../livery.ts';
import type { Result, Verb } from '../verb.ts';

/** lacquer flatten template.psd out.png, lacquer flatten tern-tide.livery hull.png --sheet hull */
export const flatten: Verb = {
  name: 'flatten',
  usage: 'IN.psd|IN.ora|LIVERY OUT.png [--sheet NAME]',
  what: 'our composite of a layered file, or one sheet of a livery as it is painted',
  args: 2,
  options: { sheet: { type: 'string' } },
  async run([from, to], values) {
    if (/\.(psd|psb|ora)$/i.test(from)) return flattenLayered(from, to);
    const scene = await openLivery(from);
    const sheet = sheetNamed(scene.template, (values.sheet as string | undefined) ?? scene.template.sheets[0].key);
    const pool = new Pool(2);
    try {
      const { width, height } = sheet;
      const image = await pool.flatten(scene, sheet.key, 'colour', { width, height });
      await writeWhole(to, await pictureBytes(image, 'png'));
      return { json: { sheet: sheet.key, width, height }, text: `${to}: ${sheet.name}, ${width} x ${height}` };
    } finally {
      await pool.close();
    }
  },
};

async function flattenLayered(from: string, to: string): Promise<Result> {
  const bytes = await readBytes(from);
  const kind = fileKind(bytes, from);
  if (!canBe('layered', kind)) throw new InputError(`${from} is not a layered file.`);
  const file = await readLayered(bytes, kind);
  const image = compositeLayered(file);
  await writeWhole(to, await pictureBytes(image, 'png'));
  const { width, height, losses } = file;
  const agreement = file.merged ? agreementOf(image, file.merged).agreement : null;
  const against = agreement ? `, ${agreement.psnr.toFixed(1)} dB from its own picture` : '';
  const left = losses.map(({ layer, what }) => `\n  "${layer}": ${what}`).join('');
  return {
    json: { width, height, losses, psnr: agreement?.psnr ?? null, apart: agreement?.apart ?? null },
    text: `${to}: ${width} x ${height}${against}${left}`,
  };
}
