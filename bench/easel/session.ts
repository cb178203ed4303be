/** What an hour of work leaves in memory: 5,000 edits, one in ten a stroke, and what the browser and the server then hold. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { Template } from '../../packages/core/src/livery/template.ts';
import { smallTemplate } from '../../packages/core/src/testing/scenes.ts';
import { atRest, openBench, type Bench } from './page.ts';
import { layers, SIDE } from './stack.ts';
import { row } from './table.ts';

/** Resident memory of a process, MiB. */
const resident = (pid: number) =>
  Number(/^VmRSS:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

/** The page's process, with its workers. */
function pageProcess(): number {
  const lines = execFileSync('ps', ['-eo', 'pid,rss,args'], { encoding: 'utf8' }).split('\n');
  const renderers = lines.filter((line) => line.includes('--type=renderer')).map((line) => line.trim().split(/\s+/));
  return Math.max(...renderers.map(([pid, rss]) => Number(rss) * 1e7 + Number(pid))) % 1e7;
}

async function edits(bench: Bench, count: number): Promise<void> {
  const { page } = bench;
  const box = (await page.getByTestId('art').boundingBox())!;
  const sheet = page.getByRole('application', { name: /^Sheet / });
  for (let done = 0; done < count; done += 10) {
    await page.getByRole('treeitem', { name: /^Layer 19,/ }).click();
    await sheet.focus();
    await page.keyboard.press('a');
    for (let k = 0; k < 9; k++) await page.keyboard.press(k % 2 ? 'ArrowUp' : 'ArrowDown');
    await page.getByRole('treeitem', { name: /^Layer 20,/ }).click();
    await sheet.focus();
    await page.keyboard.press('p');
    const [x, y] = [box.x + 100 + ((done * 7) % (box.width - 200)), box.y + 120 + ((done * 13) % (box.height - 240))];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 40, y + 20, { steps: 4 });
    await page.mouse.up();
  }
  await page.waitForTimeout(3000);
  await atRest(bench);
}

export async function benchSession(): Promise<void> {
  const bench = await openBench(Template.parse(smallTemplate(SIDE)), layers, false);
  await bench.open('l20');
  const measured: [number, number][] = [];
  for (const count of [500, 4500]) {
    await edits(bench, count);
    // What is garbage is let go of first.
    const session = await bench.page.context().newCDPSession(bench.page);
    await session.send('HeapProfiler.collectGarbage');
    measured.push([resident(pageProcess()), resident(bench.server.process.pid!)]);
  }
  const [early, late] = measured;
  const text = (which: 0 | 1) =>
    `${early[which].toFixed(0)} and ${late[which].toFixed(0)} MiB: ${(late[which] / early[which]).toFixed(2)} times`;
  const steps = await bench.server.get<{ revision: number }>(`/liveries/${bench.id}`);
  row(`memory of the page after 500 and ${steps.revision - layers.length + 1} edits`, '1.3 times', text(0));
  row('of the server', '1.3 times', text(1));
  const began = performance.now();
  await bench.open('l20');
  row('that livery opened anew', '', `${((performance.now() - began) / 1000 - 2).toFixed(1)} s until all was drawn`);
  await bench.close();
}
