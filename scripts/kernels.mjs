/** Compiles packages/core/kernels (AssemblyScript, WebAssembly SIMD) into a module that the core imports. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import os from 'node:os';
import path from 'node:path';
import { root, run } from './steps.mjs';

const from = path.join(root, 'packages/core/kernels');
const target = path.join(root, 'packages/core/src/kernels/kernels.generated.ts');

/** The module's size and flags: everything below ROOM and the first megabyte is laid out by hand in kernels/memory.ts. */
const FLAGS = ['-O3', '--converge', '--runtime', 'stub', '--enable', 'simd', '--noAssert', '--disableWarning', '112'];
/** Where the module's own data begins, and how many pages of 64 KiB it has at first. */
const BASE = 0x1f0000;
const PAGES = 176;
const MEMORY = ['--memoryBase', String(BASE), '--initialMemory', String(PAGES)];

/** The addresses of kernels/memory.ts, for those who put things there. */
function addresses() {
  const source = readFileSync(path.join(from, 'memory.ts'), 'utf8');
  const rows = [...source.matchAll(/^export const (\w+): i32 = (0x[0-9a-f]+);/gm)];
  return rows.map(([, name, at]) => `  ${name}: ${at},\n`).join('');
}

/** What is written beside the module: another shape of it is another file. */
const written = (base64) =>
  `/** Made by scripts/kernels.mjs. */\nexport const KERNELS = '${base64}';\n\n` +
  `/** Addresses in the kernels' memory, as kernels/memory.ts lays them out. */\nexport const AT = {\n${addresses()}} as const;\n` +
  `/** Where the module's own data begins, and all that it has at first, bytes. */\nexport const BASE = ${BASE};\nexport const SIZE = ${PAGES * 65536};\n`;

/**
 * Compiles unless what is there was made of these very sources: the result is kept with them, so that painting needs no compiler.
 * @param anew compiles in any case. @throws when what is kept is not what comes out
 */
export async function kernels({ anew = false } = {}) {
  const hash = createHash('sha256')
    .update([...FLAGS, ...MEMORY].join(' '))
    .update(written(''));
  for (const name of readdirSync(from).sort()) hash.update(name).update(readFileSync(path.join(from, name)));
  const mark = `// ${hash.digest('hex')}`;
  const kept = existsSync(target) ? readFileSync(target, 'utf8') : '';
  if (!anew && kept.startsWith(mark)) return;
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-kernels-'));
  try {
    const wasm = path.join(folder, 'kernels.wasm');
    await run('npx', ['asc', path.join(from, 'index.ts'), ...FLAGS, ...MEMORY, '-o', wasm]);
    const base64 = readFileSync(wasm).toString('base64');
    const made = `${mark}\n${written(base64)}`;
    if (anew && made !== kept) throw new Error(`${target} is not what its sources make: run node scripts/kernels.mjs.`);
    writeFileSync(target, made);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

if (process.argv[1] === import.meta.filename) await kernels({ anew: process.argv.includes('--check') });
