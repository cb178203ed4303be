/** Runs the siege, prints what was tried and what came of it, and fails when anything was lost. */
import { crowd } from './crowd.ts';
import { hundred } from './hundred.ts';
import { kills } from './kills.ts';

const [what = 'all', ...numbers] = process.argv.slice(2);
const number = (at: number, otherwise: number) => Number(numbers[at] ?? otherwise);
let fine = true;
if (what === 'crowd' || what === 'all') fine = (await crowd(number(0, 120))) && fine;
if (what === 'hundred' || what === 'all') fine = (await hundred(number(0, 300))) && fine;
if (what === 'kills' || what === 'all') fine = (await kills(number(0, 1000), number(1, 300))) && fine;
process.exit(fine ? 0 : 1);
