/**
 * Guesses what each texture of a folder is, from the words of its name and from its pixels, and which files are copies of one another.
 * Name habits are common practice, no source. Every guess says why; the painter corrects it.
 */
import { capital } from '../capital.ts';
import { heldIn } from '../held.ts';
import { baseOf, stemOf } from '../paths.ts';
import { apartness, type TextureLook } from './textureLook.ts';
import { wordsOf } from './words.ts';

export const FILE_ROLES = [
  'colour',
  'normal',
  'height',
  'packed',
  'roughness',
  'metal',
  'occlusion',
  'specular',
  'mask',
  'night',
  'glass',
  'preview',
] as const;
export type FileRole = (typeof FILE_ROLES)[number];

export interface FolderTexture {
  /** Path in the folder, with slashes. */
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** SHA-256 of the file's bytes. */
  readonly hash: string;
  readonly look: TextureLook;
}

export interface FileGuess {
  readonly role: FileRole;
  readonly reason: string;
  /** 0..1: how far the chosen role is ahead of the next. */
  readonly sure: number;
  /** What the file carries the same art as, and how. */
  readonly copy: { readonly kind: 'same' | 'size' | 'mirror' | 'light'; readonly of: string } | null;
}

/** Words and the role they speak for; a short one counts only as the last word. */
const WORDS: Readonly<Record<FileRole, { long: RegExp; short: RegExp }>> = {
  colour: {
    long: /^(colou?r|col|clr|diffuse|diff|dif|albedo|alb|alba|basecolou?r|base|paint|livery|skin|texture|tex|map|decal|decals)$/,
    short: /^(d|c|a|bc|df|dm|cm)$/,
  },
  normal: {
    long: /^(normals?|norm|nrm|nor|nml|nmap|normalmap|normalgl|normaldx|ddn|ddna|tangent|tsn)$/,
    short: /^(n|nm|nn|no|nr)$/,
  },
  height: {
    long: /^(height|heights|heightmap|hgt|bump|bumps|bumpmap|bmp|disp|displacement|displace|depth|parallax)$/,
    short: /^(h|b|hm|dp)$/,
  },
  packed: {
    long: /^(orm|ormh|rma|mra|arm|mro|mrao|omr|rmo|aorm|msr|pbr|packed|pack|combined|combo|comp|channels?|maskmap|masks?map|material|mat|finish|occlusionroughnessmetal\w*|occlusionroughnessmetallic|metallicroughness|metalrough|roughmetal|smoothmetal|metallicsmoothness|specgloss|params?)$/,
    short: /^(mr|rm|om|mg|sg|ms|p|pk)$/,
  },
  roughness: {
    long: /^(rough|roughness|rgh|rough|smooth|smoothness|gloss|glossiness|glossy|gls)$/,
    short: /^(r|g|ro|gl|sm)$/,
  },
  metal: { long: /^(metal|metallic|metalness|metalic|mtl|metl|mtlc)$/, short: /^(m|me|mt)$/ },
  occlusion: { long: /^(ao|occ|occl|occlusion|ambient|ambientocclusion|cavity)$/, short: /^(o|oc|av)$/ },
  specular: { long: /^(spec|specular|spc|specmap|reflect|reflection|refl|reflectivity|env|shine)$/, short: /^(s|sp)$/ },
  mask: {
    long: /^(mask|masks|msk|id|ids|idmap|matid|zones?|zonemap|coatmap|selection|teamcolou?r|tint|tintmask|camo|opacity|opac|alpha|cutout|transparency)$/,
    short: /^(k|mk|tm)$/,
  },
  night: {
    long: /^(night|nite|nt|lit|lights?|lightmap|emissive|emission|emis|emit|emi|glow|illum|illumination|selfillum|selfillumination|incandescence)$/,
    short: /^(e|l|li|em|si|il)$/,
  },
  glass: {
    long: /^(glass|glas|window|windows|windscreen|windshield|canopy|transparent|lens|visor)$/,
    short: /^(gs|wnd)$/,
  },
  preview: {
    long: /^(preview|thumb|thumbnail|icon|screenshot|screen|shot|promo|banner|cover|menu|button|logo|display)$/,
    short: /^(pv|th|ui)$/,
  },
};

/** Words that say nothing about what a map is. */
const SILENT =
  /^(\d+|k|px|x|v|ver|version|final|new|old|copy|lod|low|high|hi|lo|hd|sd|uhd|tga|dds|png|jpe?g|webp|bak|edit|wip|t|tx|ch|vh|wpn)$/;

interface Score {
  points: number;
  why: string[];
}

/** Guesses for all textures of a folder; each is weighed alone first, then against its neighbours. */
export function guessRoles(files: readonly FolderTexture[]): Map<string, FileGuess> {
  const scores = new Map(files.map((file) => [file.name, scoresOf(file)]));
  const stems = new Map(files.map((file) => [file.name, stemWords(file.name)]));
  // A dark version of a colour sheet is its night version, even where its name says nothing.
  for (const file of files) {
    const own = heldIn(scores, file.name);
    if (file.look.grey > 0.9) continue;
    const lighter = files.find(
      (other) =>
        other !== file &&
        luma(other.look) > luma(file.look) * 1.6 &&
        file.look.black > other.look.black + 0.2 &&
        topOf(heldIn(scores, other.name))[0] === 'colour' &&
        heldIn(stems, other.name).some((word) => heldIn(stems, file.name).includes(word)) &&
        apartness(other.look, file.look).shape < 1.1,
    );
    if (lighter && luma(file.look) < 70) give(own, 'night', 1.5, `it is a much darker ${baseOf(lighter.name)}`);
  }
  const copies = copiesIn(files);
  const guesses = new Map<string, FileGuess>(
    files.map((file) => {
      const own = heldIn(scores, file.name);
      const [role, best, second] = topOf(own);
      const { why } = own[role];
      return [
        file.name,
        {
          role,
          reason: why.length > 0 ? `${capital(why.join(', and '))}.` : 'Nothing in its name or pixels says otherwise.',
          sure: Math.max(0, Math.min(1, (best - second) / 4)),
          copy: copies.get(file.name) ?? null,
        },
      ];
    }),
  );
  for (const [name, of] of lightCopies(files, guesses)) guesses.set(name, { ...guesses.get(name)!, ...of });
  // The same art is the same kind of map, whatever its name or its size make of it.
  for (const [name, guess] of guesses) {
    const of = guess.copy && guesses.get(guess.copy.of);
    if (!of || of.role === guess.role) continue;
    const reason = `It carries the same art as ${baseOf(guess.copy!.of)}.`;
    guesses.set(name, { ...guess, role: of.role, reason, sure: of.sure });
  }
  return guesses;
}

const luma = (look: TextureLook) => 0.2126 * look.mean[0] + 0.7152 * look.mean[1] + 0.0722 * look.mean[2];
const stemWords = (name: string) => wordsOf(stemOf(name));

type Scores = Record<FileRole, Score>;

function give(scores: Scores, role: FileRole, points: number, why: string): void {
  scores[role].points += points;
  if (points > 0) scores[role].why.push(why);
}

/** The best role, its points, and the points of the next. */
function topOf(scores: Scores): [FileRole, number, number] {
  const order = FILE_ROLES.toSorted((a, b) => scores[b].points - scores[a].points);
  return [order[0], scores[order[0]].points, scores[order[1]].points];
}

function scoresOf({ name, width, height, look }: FolderTexture): Scores {
  const scores = Object.fromEntries(
    FILE_ROLES.map((role) => [role, { points: 0, why: [] as string[] }]),
  ) as unknown as Scores;
  const at = (role: FileRole, points: number, why: string) => give(scores, role, points, why);
  pixelScores(look, nameScores(name, at), at);
  const odd = ![width, height].every((side) => (side & (side - 1)) === 0 || side % 4 === 0);
  const wide = width / height;
  if (/\.(jpe?g|png|webp)$/i.test(name) && (odd || (wide > 1.2 && wide < 1.9 && Math.max(width, height) <= 1280)))
    at('preview', 1, `its size (${width} x ${height}) is that of a picture to look at`);
  return scores;
}

type Give = (role: FileRole, points: number, why: string) => void;

/** @returns whether the name says anything */
function nameScores(name: string, at: Give): boolean {
  const words = stemWords(name).filter((word) => !SILENT.test(word));
  const folders = name.split('/').slice(0, -1).flatMap(wordsOf);
  // Run-together endings: "hullNormal" splits by itself, "hull_basecolor" and "hull_ao_rough_metal" need their words joined.
  const joined = words.slice(1).map((word, i) => words[i] + word);
  let found = 0;
  for (const role of FILE_ROLES) {
    const { long, short } = WORDS[role];
    const at0 = words.findLastIndex((word) => long.test(word));
    const pair = joined.findLastIndex((word) => long.test(word));
    const last = words.at(-1);
    if (pair >= 0) at(role, 4.5, `its name says "${words[pair]} ${words[pair + 1]}"`);
    else if (at0 >= 0) {
      // The last word counts most, and the first one least: that is usually what the thing is.
      const weight = at0 === words.length - 1 ? 4 : at0 === 0 && words.length > 1 ? 1.5 : 2.5;
      // The glass of a thing has a colour sheet too, and is told by the word for glass.
      at(
        role,
        role === 'colour' ? weight * 0.75 : role === 'glass' ? weight + 1.2 : weight,
        `its name says "${words[at0]}"`,
      );
    } else if (last && stemWords(name).length > 1 && short.test(last)) at(role, 2.5, `its name ends in "${last}"`);
    else if (folders.some((word) => long.test(word)) && role !== 'colour')
      at(role, 1, 'it lies in a folder of that name');
    if (at0 >= 0 || pair >= 0) found++;
  }
  // Several finish maps named at once are packed together.
  const finish = (['roughness', 'metal', 'occlusion', 'specular'] as const).filter((role) =>
    words.some((word) => WORDS[role].long.test(word)),
  );
  if (finish.length > 1) at('packed', 5.5, `its name says ${finish.join(' and ')}`);
  if (found === 0) at('colour', 1, 'its name has no special ending');
  return found > 0;
}

function pixelScores(look: TextureLook, named: boolean, at: Give): void {
  const [r, g, b] = look.mean;
  const flat = Math.max(...look.spread.slice(0, 3)) < 2;
  const centred = Math.abs(r - 128) < 24 && Math.abs(g - 128) < 24;
  if (centred && b > 170 && Math.abs(look.length - 1) < 0.12 && look.stray < 0.15)
    at('normal', 4.5, 'its colours are unit vectors around straight up');
  else if (
    centred &&
    look.inCircle > 0.995 &&
    look.grey < 0.5 &&
    look.spread[0] < 45 &&
    look.spread[1] < 45 &&
    (b < 8 || b > 247)
  )
    at('normal', 3, 'its red and green are two parts of a unit vector');
  else if (
    look.alpha === 'soft' &&
    Math.abs(look.mean[3] - 128) < 16 &&
    Math.abs(g - 128) < 16 &&
    look.spread[3] < 45 &&
    look.spread[1] < 45
  )
    at('normal', 2, 'its alpha and green are two parts of a unit vector');
  else at('normal', -1.5, '');

  if (look.grey > 0.98) {
    // White or grey paint is colour all the same, unless a name says that it is something else.
    at('colour', named ? -1.5 : 0.8, named ? '' : 'it may be grey paint');
    at('packed', -3, '');
    for (const role of ['roughness', 'metal', 'occlusion', 'specular', 'height', 'mask'] as const)
      at(role, 0.5, 'it is grey');
    if (!flat && look.extreme[0] > 0.9) {
      at('mask', 1.5, 'it is nearly all black and white');
      at('metal', 0.5, 'it is nearly all black and white');
    } else if (!flat && r > 170) at('occlusion', 0.8, 'it is light with darker corners');
    else if (!flat && Math.abs(r - 128) < 25) at('height', 0.4, 'its greys lie around the middle');
  } else {
    for (const role of ['roughness', 'metal', 'occlusion', 'height'] as const) at(role, -1.5, '');
    const apart =
      look.together.every((c) => Math.abs(c) < 0.35) && look.spread.filter((s, k) => k < 3 && s > 4).length >= 2;
    const data = [0, 1, 2].some((c) => look.extreme[c] > 0.9 || look.mean[c] > 190);
    if (apart && data && look.colours > 3 && !(centred && b > 170))
      at('packed', 1.8, 'its channels have little to do with each other');
    // Pure colours in few flat areas are marks for a program, not for the eye.
    const pure = Math.min(look.extreme[0], look.extreme[1], look.extreme[2]);
    if (look.colours <= 9 && pure > 0.93 && look.grey < 0.9 && look.black < 0.7)
      at('mask', 2.5, 'it is made of a few pure colours');
    else at('colour', 0.6, 'it has colours');
  }
  if (look.black > 0.7 && look.grey < 0.9 && !flat) at('night', 2.2, 'it is black but for a few lights');
  if (look.alpha === 'soft' && look.mean[3] > 25 && look.mean[3] < 200) at('glass', 0.5, 'it is half clear');
}

/** Files that carry the same art: the same bytes, another size, or mirrored. Each points at the largest, or first, of its kind. */
function copiesIn(files: readonly FolderTexture[]): Map<string, NonNullable<FileGuess['copy']>> {
  const out = new Map<string, NonNullable<FileGuess['copy']>>();
  const order = files.toSorted((a, b) => b.width * b.height - a.width * a.height);
  order.forEach((file, i) => {
    if (Math.max(...file.look.spread.slice(0, 3)) < 2) {
      const same = order.slice(0, i).find((other) => other.hash === file.hash);
      if (same) out.set(file.name, { kind: 'same', of: same.name });
      return;
    }
    for (const other of order.slice(0, i)) {
      if (out.has(other.name)) continue;
      if (other.hash === file.hash) out.set(file.name, { kind: 'same', of: other.name });
      else if (Math.abs(file.width / file.height - other.width / other.height) < 0.01) {
        const alike = Math.max(...[0, 1, 2].map((c) => Math.abs(file.look.mean[c] - other.look.mean[c]))) < 4;
        if (!alike) continue;
        if (apartness(file.look, other.look).plain < 3)
          out.set(file.name, { kind: file.width === other.width ? 'same' : 'size', of: other.name });
        else if (apartness(mirrored(file.look), other.look).plain < 2)
          out.set(file.name, { kind: 'mirror', of: other.name });
      }
      if (out.has(file.name)) return;
    }
  });
  return out;
}

/** Words for another light or state of the same thing (common practice, no source). */
const LIGHTS =
  /^(wet|damp|rain|rainy|dusk|dawn|evening|sunset|dark|dim|shade|shadow|snow|snowy|winter|autumn|soiled|dirt|dirty|mud|muddy|dust|dusty|worn|old|used|burnt|burned|damage|damaged|dmg|rust|rusty|broken|dry|clean)$/;
/** How far two pictures of one thing in different light may be apart once both are brought to one brightness. */
const [SAME_SHAPE, NAMED_SHAPE] = [0.12, 0.5];

/** Colour sheets that show another one in another light: told by their pictures, and sooner where the name says so. */
function lightCopies(
  files: readonly FolderTexture[],
  guesses: ReadonlyMap<string, FileGuess>,
): Map<string, Pick<FileGuess, 'copy' | 'reason'>> {
  const colours = files.filter(({ name, look }) => {
    const guess = heldIn(guesses, name);
    return guess.role === 'colour' && !guess.copy && Math.max(...look.spread.slice(0, 3)) >= 2;
  });
  const out = new Map<string, Pick<FileGuess, 'copy' | 'reason'>>();
  for (const file of colours) {
    const words = stemWords(file.name);
    const said =
      words.find((word) => LIGHTS.test(word)) ??
      file.name
        .split('/')
        .slice(0, -1)
        .flatMap(wordsOf)
        .find((word) => LIGHTS.test(word));
    const masters = colours.filter((other) => {
      if (other === file || out.has(other.name) || other.width / other.height !== file.width / file.height)
        return false;
      const theirs = stemWords(other.name);
      const plainer =
        theirs.filter((word) => LIGHTS.test(word)).length < words.filter((word) => LIGHTS.test(word)).length;
      const lighter =
        luma(other.look) > luma(file.look) * 1.15 || plainer || (said !== undefined && theirs.length < words.length);
      if (!lighter || !theirs.some((word) => words.includes(word) && !LIGHTS.test(word) && !SILENT.test(word)))
        return false;
      return apartness(other.look, file.look).shape < (said ? NAMED_SHAPE : SAME_SHAPE);
    });
    const lights = ({ name }: FolderTexture) => stemWords(name).filter((word) => LIGHTS.test(word)).length;
    const far = ({ look }: FolderTexture) => apartness(look, file.look).shape;
    const [of] = masters.toSorted((a, b) => lights(a) - lights(b) || far(a) - far(b));
    if (of)
      out.set(file.name, {
        copy: { kind: 'light', of: of.name },
        reason: `It shows ${baseOf(of.name)} in another light.`,
      });
  }
  // A copy of a copy is one of the master.
  for (const [name, { copy, reason }] of out) {
    let of = copy!.of;
    for (let next = out.get(of); next && next.copy!.of !== name; next = out.get(of)) of = next.copy!.of;
    out.set(name, { copy: { kind: 'light', of }, reason });
  }
  return out;
}

function mirrored(look: TextureLook): TextureLook {
  return { ...look, small: look.small.map((_, i) => look.small[(i & ~15) | (15 - (i & 15))]) };
}
