/** What the easel takes: `npm run bench -- easel [sheet|dabs|hands|model|session]`, all of it when nothing is named. */
import { benchHands } from './easel/hands.ts';
import { benchSession } from './easel/session.ts';
import { benchDabs, benchSheet } from './easel/sheet.ts';
import { calibrate, row } from './easel/table.ts';

const parts: Record<string, () => Promise<void>> = {
  sheet: benchSheet,
  dabs: benchDabs,
  hands: () => benchHands(false),
  model: () => benchHands(true),
  session: benchSession,
};
const wanted = process.argv.slice(2);
row('sheet of 4096 x 4096, forty layers', 'wanted', 'measured');
for (const [name, run] of Object.entries(parts))
  if (wanted.length === 0 || wanted.includes(name)) {
    calibrate();
    await run();
  }
calibrate();
process.exit(0);
