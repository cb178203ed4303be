import { InputError } from '@wet-lacquer/core/errors.ts';
import { Pool } from '@wet-lacquer/server/threads/pool.ts';
import { pictureBytes, writeWhole } from '../files.ts';
import { openLivery } from '../livery.ts';
import type { Verb } from '../verb.ts';

/** lacquer flatten tern-tide.livery hull.png --sheet hull */
export const flatten: Verb = {
  name: 'flatten',
  usage: 'LIVERY OUT.png [--sheet NAME]',
  what: 'one sheet of a livery as it is painted, before delivery touches it',
  args: 2,
  options: { sheet: { type: 'string' } },
  async run([from, to], values) {
    const scene = await openLivery(from);
    const key = values.sheet ?? scene.template.sheets[0].key;
    const sheet = scene.template.sheets.find((s) => s.key === key);
    if (!sheet)
      throw new InputError(
        `There is no sheet "${String(key)}"; there are ${scene.template.sheets.map((s) => s.key).join(', ')}.`,
      );
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
