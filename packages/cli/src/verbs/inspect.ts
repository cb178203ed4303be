import sharp from 'sharp';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readBundle } from '@wet-lacquer/core/files/bundle.ts';
import { readGlb, readObj, type ReadMesh } from '@wet-lacquer/core/files/mesh.ts';
import { alphaKind } from '@wet-lacquer/core/raster/image.ts';
import { readDdsFacts, readDdsLevel } from '@wet-lacquer/core/texture/dds.ts';
import { readTga, readTgaFacts } from '@wet-lacquer/core/texture/tga.ts';
import { kindOf, readBytes, readImage } from '../files.ts';
import type { Verb } from '../verb.ts';

async function factsOf(file: string): Promise<Record<string, unknown>> {
  const bytes = await readBytes(file);
  const kind = kindOf(bytes, file);
  switch (kind) {
    case 'dds': {
      return {
        kind,
        ...readDdsFacts(bytes),
        alpha: alphaKind(readDdsLevel(bytes, 0)),
        origin: 'as stored',
      };
    }
    case 'tga': {
      const facts = readTgaFacts(bytes);
      return { kind, ...facts, format: `${facts.bits} bits`, mips: 1, alpha: alphaKind(readTga(bytes)) };
    }
    case 'glb':
      return { kind, ...meshFacts(await readGlb(bytes)) };
    case 'obj':
      return { kind, ...meshFacts(readObj(new TextDecoder().decode(bytes))) };
    case 'livery': {
      const { livery, template } = await readBundle(bytes);
      const layers = livery.sheets.flatMap((sheet) =>
        sheet.maps.flatMap((map) =>
          map.layers.map((layer) => ({
            sheet: sheet.key,
            map: map.key,
            name: layer.name,
            kind: layer.kind,
            hidden: layer.hidden,
          })),
        ),
      );
      return {
        kind,
        name: livery.particulars.name,
        template: template.name,
        game: template.gameName,
        sheets: template.sheets.map(({ key, width, height }) => ({ key, width, height })),
        layers,
      };
    }
    default: {
      const meta = await sharp(bytes)
        .metadata()
        .catch(() => null);
      if (!meta?.format)
        throw new InputError(
          `${file} is of no kind that can be read: DDS, TGA, PNG, JPEG, WebP, GLB, OBJ and livery bundles are.`,
        );
      const image = await readImage(file);
      return {
        kind: meta.format,
        width: image.width,
        height: image.height,
        format: `${meta.channels} channels, ${meta.depth}`,
        colourSpace: meta.space,
        mips: 1,
        alpha: alphaKind(image),
        origin: 'top',
      };
    }
  }
}

function meshFacts({ mesh, groups }: ReadMesh) {
  return {
    triangles: mesh.indices.length / 3,
    vertices: mesh.positions.length / 3,
    materials: [...new Set(groups.map((g) => g.material))],
    parts: groups.map(({ name, material, count }) => ({ name, material, triangles: count })),
  };
}

/** lacquer inspect hull.dds --json */
export const inspect: Verb = {
  name: 'inspect',
  usage: 'FILE',
  what: 'facts of a texture, picture, model or livery bundle',
  args: 1,
  async run([file]) {
    const json = await factsOf(file);
    const say = (value: unknown) =>
      Array.isArray(value)
        ? `${value.length}: ${value.map((v) => (typeof v === 'object' ? Object.values(v as object).join(' ') : v)).join('; ')}`
        : String(value);
    return {
      json,
      text: Object.entries(json)
        .map(([key, value]) => `${key.padEnd(14)}${say(value)}`)
        .join('\n'),
    };
  },
};
