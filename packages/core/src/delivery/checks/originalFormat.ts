import { FOLLOWED_IN, fileFor, type SpecFile } from '../../livery/spec.ts';
import type { OriginalFile } from '../../livery/template.ts';
import { FORMATS } from '../../texture/formats/index.ts';
import type { Check, CheckInput, Finding } from '../finding.ts';
import { followsWhole, isOriginal, type PlannedSheet } from '../plan.ts';

const kindOf = ({ container, format }: Pick<SpecFile, 'container' | 'format'>) =>
  container === 'dds' ? `${FORMATS[format].name} in DDS` : container.toUpperCase();

/** What each thing that can be followed is called. */
const CALLED: Readonly<Record<SpecFile['container'], Readonly<Record<string, string>>>> = {
  dds: { header: 'header', mips: 'number of mip levels', alpha: 'kind of alpha' },
  tga: {
    runs: 'run lengths',
    bits: 'bits a texel',
    rows: 'order of rows',
    alpha: 'alpha bits',
    extras: 'id and footer',
  },
  png: { bits: 'kind of colour and depth', extras: 'profile and other chunks' },
  jpg: { quality: 'quality and sampling', extras: 'profile and other segments' },
  webp: { quality: 'quality' },
};

/** In what a file that lies over an original is written unlike it. */
function unlike(
  rule: SpecFile,
  original: OriginalFile,
  { width, height }: { width: number; height: number },
): string[] {
  const { stored, upsideDown } = original;
  const known = stored.format in FORMATS ? FORMATS[stored.format as keyof typeof FORMATS].name : stored.format;
  if (stored.container !== rule.container)
    return [
      `${kindOf(rule)}, the original ${stored.container === 'dds' ? `${known} in DDS` : stored.container.toUpperCase()}`,
    ];
  return [
    rule.container === 'dds' &&
      stored.format !== rule.format &&
      stored.format !== 'masks' &&
      `${kindOf(rule)}, the original ${known}`,
    (stored.width !== width || stored.height !== height) &&
      `${width} x ${height}, the original ${stored.width} x ${stored.height}`,
    upsideDown !== rule.flip && `stored ${rule.flip ? 'upside down' : 'upright'}, the original is not`,
    ...FOLLOWED_IN[rule.container]
      .filter((what) => !rule.over?.follow.includes(what))
      .map((what) => `its ${CALLED[rule.container][what]} by the spec, not by the original`),
  ].filter((text): text is string => typeof text === 'string');
}

/** What of an original's way of storing cannot be kept once something is painted. */
function lost({ stored }: OriginalFile): string | null {
  if (stored.container === 'jpg' && stored.colours === 'four')
    return 'It is stored in four inks, which cannot be painted over; it is written anew in three colours.';
  if (stored.container === 'jpg' && stored.progressive)
    return 'It is stored in progressive scans; it is written anew in one, and all of it is compressed a second time.';
  if (stored.container === 'webp' && !stored.lossless)
    return 'It is a WebP with loss, which cannot be painted over block by block; it is written without loss, so that nothing else changes, and is larger.';
  if (stored.mapped || stored.colours === 'palette')
    return 'Its colours come from a palette: free entries take new colours, and where none is left the nearest colour is taken.';
  if (stored.colours === 'grey' || stored.colours === 'grey and alpha')
    return 'It is stored in greys: of colours only their brightness goes out.';
  if (stored.bits === 15 || stored.bits === 16)
    return 'It holds five bits of each colour: colours are rounded to them.';
  return null;
}

export const originalFormat: Check = {
  key: 'original-format',
  subject: 'files against those of the original',
  why: 'A game takes most surely what it brings itself: the original’s format, size and mip levels.',
  run(input) {
    return input.plan.files.flatMap((file): Finding[] => {
      if (file.kind !== 'sheet' || file.leftOut || file.level?.at) return [];
      const show = { sheet: file.master.key };
      if (!file.original) return file.follower ? [] : againstRule(input, file);
      const size = file.level ?? file.sheet;
      const differs = followsWhole(file.spec, file.original, size) ? [] : unlike(file.spec, file.original, size);
      const gone = lost(file.original);
      return [
        ...(differs.length > 0
          ? [
              {
                check: this.key,
                level: 'stop' as const,
                title: `${file.name} is not made like the original`,
                detail: `It is ${differs.join('; ')}. All of it is written anew.`,
                show,
                overrule: `format of ${file.name}`,
              },
            ]
          : []),
        ...(gone && !isOriginal(input.livery, input.template, file.master.key, file.spec.map)
          ? [
              {
                check: this.key,
                level: 'advice' as const,
                title: `${file.name} cannot follow its original in all`,
                detail: gone,
                show,
              },
            ]
          : []),
      ];
    });
  },
};

/** A file by another rule than the template's own, to the same game. */
function againstRule({ spec, template }: CheckInput, file: PlannedSheet): Finding[] {
  const own = template.ownSpec;
  // Measured by itself a file differs in nothing; another game has wishes of its own.
  if (!own || own.key === spec.key || own.game !== spec.game) return [];
  const was = fileFor(own, file.master.key, file.spec.map);
  if (!was || file.spec.scale) return [];
  const { width, height } = was.size ?? file.master;
  const mips = (rule: SpecFile) => (rule.mips === 'none' ? 'no mip levels' : `${rule.mips} mip levels`);
  const differs = [
    kindOf(was) !== kindOf(file.spec) && `${kindOf(file.spec)}, the original ${kindOf(was)}`,
    (width !== file.sheet.width || height !== file.sheet.height) &&
      `${file.sheet.width} x ${file.sheet.height}, the original ${width} x ${height}`,
    was.container === 'dds' && was.mips !== file.spec.mips && `${mips(file.spec)}, the original ${mips(was)}`,
    was.flip !== file.spec.flip && `stored ${file.spec.flip ? 'upside down' : 'upright'}, the original is not`,
  ].filter((text): text is string => typeof text === 'string');
  return differs.length === 0
    ? []
    : [
        {
          check: originalFormat.key,
          level: 'advice',
          title: `${file.name} is not made like the original`,
          detail: `It is ${differs.join('; ')}.`,
          show: { sheet: file.master.key },
        },
      ];
}
