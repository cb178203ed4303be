/** "Match the original": what a file that came says about how its like is to be delivered. */
import { SpecFile } from '../livery/spec.ts';
import type { TextureFacts } from './understood.ts';

/** The folders that all names begin with, with a slash at the end: they are where the files came from, not what the game asks for. */
export function sharedFolder(names: readonly string[]): string {
  if (names.length === 0) return '';
  const folders = names.map((name) => name.split('/').slice(0, -1));
  const depth = Math.min(...folders.map((f) => f.length));
  let same = 0;
  while (same < depth && folders.every((f) => f[same] === folders[0][same])) same++;
  return folders[0]
    .slice(0, same)
    .map((folder) => `${folder}/`)
    .join('');
}

/** A rule that gives back the format, header, colour space, mips and name of the file that came. */
export function ruleLike(
  sheet: string,
  name: string | null,
  facts: TextureFacts | null,
  remarks: string[],
  map = 'colour',
): SpecFile {
  const made = map === 'colour' ? '{livery.key}_{sheet.key}' : `{livery.key}_{sheet.key}_${map}`;
  const stem = name ? name.replace(/\.[^./]*$/, '') : made;
  const colours = map === 'colour' || map === 'night';
  const space = map === 'normal' ? ('normal' as const) : colours ? ('srgb' as const) : ('linear' as const);
  const base = {
    map,
    sheets: [sheet],
    mipFilter: 'kaiser' as const,
    flip: false,
    freeClear: false,
    padding: 16,
  };
  if (!facts || !name)
    return SpecFile.parse({
      ...base,
      name: `${stem}.png`,
      container: 'png',
      format: 'rgba8',
      header: 'legacy',
      colourSpace: space,
      mips: 'none',
      alpha: 'keep',
    });
  const alpha = facts.alpha === 'none' ? 'opaque' : 'keep';
  if (facts.container === 'dds') {
    const known = SpecFile.shape.format.safeParse(facts.format);
    if (!known.success)
      remarks.push(`${name} is ${facts.compression}, which is not written; its rule says RGBA8 instead.`);
    return SpecFile.parse({
      ...base,
      name: `${stem}.dds`,
      container: 'dds',
      format: known.success ? known.data : 'rgba8',
      header: facts.header ?? 'legacy',
      // A legacy header says nothing of colour space; what the map is does.
      colourSpace: facts.header === 'dx10' && map !== 'normal' && facts.colourSpace === 'linear' ? 'linear' : space,
      mips: facts.mips > 1 ? 'full' : 'none',
      alpha,
    });
  }
  const container = facts.container === 'tga' ? 'tga' : facts.container === 'jpeg' ? 'jpg' : 'png';
  if (facts.container === 'webp') remarks.push(`${name} is WebP; its rule says PNG, which loses nothing.`);
  const ending = /\.jpeg$/i.test(name) ? 'jpeg' : container;
  return SpecFile.parse({
    ...base,
    name: `${stem}.${ending}`,
    container,
    format: container === 'tga' && alpha === 'opaque' ? 'bgr8' : 'rgba8',
    header: 'legacy',
    colourSpace: space,
    mips: 'none',
    alpha,
  });
}
