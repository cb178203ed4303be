/** "Match the original": what a file that came says about how its like is to be delivered. */
import { FOLLOWED_IN, SpecFile } from '../livery/spec.ts';
import { holdsOf, isColoured, MAIN_MAP } from '../livery/template.ts';
import { wayLike } from '../livery/wayLike.ts';
import type { TextureFacts } from './understood.ts';

/** What a spec says that is made of files alone, whose game told nothing of its rules. */
export const AS_ORIGINAL = {
  schema: 1,
  folder: '{livery.key}/',
  sidecars: [],
  liveryKey: {
    allowed: 'abcdefghijklmnopqrstuvwxyz0123456789-',
    says: 'lower-case letters, digits and hyphens',
    maxLength: 60,
  },
  maxSide: 16384,
  ground: '#808080',
  after: 'Put the files where the game keeps its own, and keep a copy of those.',
};

/** The folder that was brought: the first one, when all files lie in it. Below it the tree is the game's own. With a slash at the end. */
export function broughtFolder(names: readonly string[]): string {
  const [first = ''] = names;
  const folder = first.slice(0, first.indexOf('/') + 1);
  return folder && names.every((name) => name.startsWith(folder)) ? folder : '';
}

/** A rule that gives back the format, header, colour space, mips and name of the file that came. */
export function ruleLike(
  sheet: string,
  name: string | null,
  facts: TextureFacts | null,
  remarks: string[],
  map = MAIN_MAP,
  holds = holdsOf({ key: map }),
): SpecFile {
  const made = map === MAIN_MAP ? '{livery.key}_{sheet.key}' : `{livery.key}_{sheet.key}_${map}`;
  const stem = name ? literal(name.replace(/\.[^./]*$/, '')) : made;
  const space = holds === 'normal' ? ('normal' as const) : isColoured(holds) ? ('srgb' as const) : ('linear' as const);
  const base = {
    map,
    sheets: [sheet],
    mipFilter: 'kaiser' as const,
    flip: false,
    freeClear: false,
    padding: 0,
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
  const container = facts.container === 'jpeg' ? 'jpg' : facts.container;
  const over = { follow: [...FOLLOWED_IN[container]] };
  if (facts.container === 'dds') {
    const known = SpecFile.shape.format.safeParse(facts.format);
    // Uncompressed texels of any masks are written into the file that is there.
    if (!known.success && facts.format !== 'masks')
      remarks.push(`${name} is ${facts.compression}, which is not written; its rule says RGBA8 instead.`);
    return SpecFile.parse({
      ...base,
      name: literal(name),
      container: 'dds',
      format: known.success ? known.data : 'rgba8',
      header: facts.header ?? 'legacy',
      // A legacy header says nothing of colour space; what the map is does.
      colourSpace: facts.header === 'dx10' && holds !== 'normal' && facts.colourSpace === 'linear' ? 'linear' : space,
      mips: facts.mips === 1 ? 'none' : facts.mips === facts.mipsExpected ? 'full' : facts.mips,
      mipFilter: facts.mipFilter ?? 'kaiser',
      alpha,
      ...((known.success || facts.format === 'masks') && { over }),
    });
  }
  return SpecFile.parse({
    ...base,
    name: literal(name),
    container,
    format: container === 'tga' && alpha === 'opaque' ? 'bgr8' : 'rgba8',
    header: 'legacy',
    colourSpace: space,
    mips: 'none',
    alpha,
    over,
    ...(facts.stored && { way: wayLike(facts.stored) }),
  });
}

/** A name that stands for itself in a pattern: braces would ask for particulars. */
const literal = (name: string): string => name.replace(/[{}]/g, '');
