import { calibration } from '../calibration.ts';

/** Lines of the table. */
export const ms = (value: number): string => `${value.toFixed(value < 10 ? 2 : 0)} ms`;
export const seconds = (value: number): string => `${(value / 1000).toFixed(2)} s`;

/** Milliseconds of the calibrating loop just now; 0: it has not run. */
let loop = 0;

/** Runs the calibrating loop; from here on times are also told as so many of it. */
export function calibrate(): void {
  loop = calibration();
  console.log(`calibrating loop ${ms(loop)}`);
}

/** The first time in a line, as so many calibrating loops: what travels from one machine, and one hour, to another. */
function inLoops(measured: string): string {
  const found = /(\d+(?:\.\d+)?) (ms|s)\b/.exec(measured);
  if (!found || loop === 0) return '';
  return ` [${((Number(found[1]) * (found[2] === 's' ? 1000 : 1)) / loop).toPrecision(2)} loops]`;
}

export function row(what: string, wanted: string, measured: string): void {
  console.log(`${what.padEnd(62)} ${wanted.padEnd(16)} ${measured}${inLoops(measured)}`);
}
