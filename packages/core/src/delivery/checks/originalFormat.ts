import { fileFor } from '../../livery/spec.ts';
import { FORMATS } from '../../texture/formats.ts';
import type { Check } from '../finding.ts';

export const originalFormat: Check = {
  key: 'original-format',
  subject: 'files against those of the original',
  why: 'A game takes most surely what it brings itself: the original’s format, size and mip levels.',
  run({ plan, spec, template }) {
    const own = template.ownSpec;
    // Measured by itself a file differs in nothing; another game has wishes of its own.
    if (!own || own.key === spec.key || own.game !== spec.game) return [];
    return plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower || file.level?.at) return [];
      const was = fileFor(own, file.master.key, file.spec.map);
      if (!was || file.spec.scale) return [];
      const { width, height } = was.size ?? file.master;
      const kind = ({ container, format }: typeof was) =>
        container === 'dds' ? `${FORMATS[format].name} in DDS` : container.toUpperCase();
      const mips = (rule: typeof was) => (rule.mips === 'none' ? 'no mip levels' : `${rule.mips} mip levels`);
      const differs = [
        kind(was) !== kind(file.spec) && `${kind(file.spec)}, the original ${kind(was)}`,
        (width !== file.sheet.width || height !== file.sheet.height) &&
          `${file.sheet.width} x ${file.sheet.height}, the original ${width} x ${height}`,
        was.container === 'dds' && was.mips !== file.spec.mips && `${mips(file.spec)}, the original ${mips(was)}`,
        was.flip !== file.spec.flip && `stored ${file.spec.flip ? 'upside down' : 'upright'}, the original is not`,
      ].filter((text): text is string => typeof text === 'string');
      return differs.length === 0
        ? []
        : [
            {
              check: this.key,
              level: 'advice' as const,
              title: `${file.name} is not made like the original`,
              detail: `It is ${differs.join('; ')}.`,
              show: { sheet: file.master.key },
            },
          ];
    });
  },
};
