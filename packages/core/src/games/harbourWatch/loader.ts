/**
 * Harbour Watch's loader. A livery is a slot, `liveries/launch-21/` to `liveries/launch-39/`, with `launch-<slot>_<sheet>.dds` for far
 * and `launch-<slot>_<sheet>_large.dds` for near: BC1, legacy header, all mip levels.
 */
import { ddsSheet, notShown } from '../../bay/dds.ts';
import { childrenOf, whyIgnored } from '../../bay/names.ts';
import { newReport, type BayGame } from '../../bay/report.ts';

const ROOT = 'liveries/';
const SHEETS: Readonly<Record<string, number>> = { bow: 1024, middle: 1024, stern: 1024, house: 512 };

export const loader: BayGame = {
  key: 'harbour-watch',
  name: 'Harbour Watch',
  view: { light: 'Overcast', distance: 1.4, texels: 'mips' },
  list(folder) {
    const ignored: { file: string; why: string }[] = [];
    const keys = childrenOf(folder.keys(), ROOT).filter((name) => {
      const slot = /^launch-(\d\d)$/.exec(name)?.[1];
      const fits = slot !== undefined && Number(slot) >= 21 && Number(slot) <= 39;
      if (!fits)
        ignored.push({
          file: ROOT + name,
          why: slot
            ? `Ignored: slot ${slot} is not for liveries; 21 to 39 are.`
            : 'Ignored: slots are called launch-21 to launch-39, in lower case.',
        });
      return fits;
    });
    for (const path of folder.keys())
      if (!path.startsWith(ROOT))
        ignored.push({ file: path, why: 'Ignored: the game looks into the folder liveries, in lower case.' });
    return { keys, ignored };
  },
  load(folder, key) {
    const root = `${ROOT}${key}/`;
    const report = newReport(key, `Slot ${key.slice(-2)}`);
    const names = [...folder.keys()].filter((path) => path.startsWith(root)).map((path) => path.slice(root.length));
    const expected = Object.keys(SHEETS).flatMap((sheet) => [`${key}_${sheet}.dds`, `${key}_${sheet}_large.dds`]);
    for (const [sheet, side] of Object.entries(SHEETS)) {
      const [far, close] = [`${key}_${sheet}.dds`, `${key}_${sheet}_large.dds`];
      const [small, large] = [folder.get(root + far), folder.get(root + close)];
      const want = (size: number) => ({ format: 'BC1', header: 'legacy', width: size, height: size }) as const;
      if (!small && !large) {
        report.sheets.push(
          notShown(sheet, close, 'own', 'Neither size is in the slot, so the game shows its own picture.'),
        );
        continue;
      }
      const both = [
        large
          ? ddsSheet(sheet, close, large, want(side * 4))
          : notShown(sheet, close, 'missing', `No ${close}: the sheet turns into the pattern when one comes near.`),
        small
          ? ddsSheet(`${sheet}/far`, far, small, want(side))
          : notShown(`${sheet}/far`, far, 'missing', `No ${far}: the sheet turns into the pattern far away.`),
      ];
      report.sheets.push(...both);
      report.loaded.push(...both.filter((one) => one.status === 'shown').map((one) => one.file));
    }
    for (const name of names)
      if (!expected.includes(name)) report.ignored.push({ file: root + name, why: whyIgnored(name, expected) });
    return report;
  },
};
