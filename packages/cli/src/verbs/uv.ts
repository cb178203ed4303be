import { InputError } from '@wet-lacquer/core/errors.ts';
import { subjectOf } from '@wet-lacquer/core/models/mesh.ts';
import { readModel } from '@wet-lacquer/core/models/readModel.ts';
import { newImage } from '@wet-lacquer/core/raster/image.ts';
import { strokeCoverage } from '@wet-lacquer/core/shapes/coverage.ts';
import { uvLines } from '@wet-lacquer/core/surface/guides.ts';
import { canBe, fileKind, namesOf } from '@wet-lacquer/core/kinds/index.ts';
import { filesBeside } from '../beside.ts';
import { pictureBytes, readBytes, writeWhole } from '../files.ts';
import { wholeOf, type Verb } from '../verb.ts';

/** lacquer uv turnstone.glb hull-uv.png --size 2048 --sheet hull */
export const uv: Verb = {
  name: 'uv',
  usage: 'MESH OUT.png --size N [--sheet NAME]',
  what: "a model's UV layout at a sheet's own size, black lines on clear",
  args: 2,
  options: { size: { type: 'string' }, sheet: { type: 'string' } },
  async run([from, to], values) {
    const side = wholeOf(values, 'size', 16, 16384) ?? 1024;
    const bytes = await readBytes(from);
    const kind = fileKind(bytes, from);
    if (!canBe('model', kind)) throw new InputError(`${from} is not a model; ${namesOf('model')} can be read.`);
    const { mesh, groups } = await readModel(bytes, kind, await filesBeside(from, bytes, kind));
    const sheets = [...new Set(groups.filter(({ bare }) => !bare).map((group) => group.material))];
    const sheet = (values.sheet as string | undefined) ?? sheets[0];
    if (!sheets.includes(sheet))
      throw new InputError(`No material of this model is called "${sheet}"; there are ${sheets.join(', ')}.`);
    const template = subjectOf({ mesh, groups }, side);
    const { wire } = uvLines(template, sheet);
    const lines = Array.from({ length: wire.length / 4 }, (_, i) => wire.slice(i * 4, i * 4 + 4));
    const coverage = strokeCoverage(lines, 0.5, side, side);
    const image = newImage(side, side);
    coverage.forEach((share, i) => (image.data[i * 4 + 3] = Math.round(share * 255)));
    await writeWhole(to, await pictureBytes(image, 'png'));
    return {
      json: { sheet, width: side, height: side, edges: lines.length },
      text: `${to}: ${sheet}, ${lines.length} edges`,
    };
  },
};
