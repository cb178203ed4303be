/** Tollbarge's loader: all barges wear the one atlas `barges/sails.dds`, BC1 with legacy header, 1024, all mip levels. */
import { ddsSheet, notShown } from '../../bay/dds.ts';
import { difference, isNearMiss } from '../../bay/names.ts';
import { newReport, type BayGame } from '../../bay/report.ts';

const FILE = 'barges/sails.dds';

export const loader: BayGame = {
  key: 'tollbarge',
  name: 'Tollbarge',
  view: { light: 'Overcast', distance: 1.8, texels: 'mips' },
  list: (folder) => ({
    keys: folder.size > 0 ? ['sails'] : [],
    ignored: [...folder.keys()]
      .filter((path) => path !== FILE)
      .map((path) => ({
        file: path,
        why: isNearMiss(FILE, path)
          ? `Ignored: the game looks for ${FILE}; ${difference(FILE, path)}.`
          : 'Ignored: the game has no use for it.',
      })),
  }),
  load(folder, key) {
    const report = newReport(key, 'Sails');
    const bytes = folder.get(FILE);
    const want = { format: 'BC1', header: 'legacy', width: 1024, height: 1024 } as const;
    report.sheets.push(
      bytes
        ? ddsSheet('sails', FILE, bytes, want)
        : notShown('sails', FILE, 'missing', `No ${FILE}: every sail is lost.`),
    );
    if (report.sheets[0].status === 'shown') report.loaded.push(FILE);
    return report;
  },
};
