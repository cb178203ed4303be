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
const MEMORY = ['--memoryBase', '2031616', '--initialMemory', '176'];

/** Compiles unless what is there was made of these very sources. */
export async function kernels() {
  const hash = createHash('sha256').update([...FLAGS, ...MEMORY].join(' '));
  for (const name of readdirSync(from).sort()) hash.update(name).update(readFileSync(path.join(from, name)));
  const mark = `// ${hash.digest('hex')}`;
  if (existsSync(target) && readFileSync(target, 'utf8').startsWith(mark)) return;
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-kernels-'));
  try {
    const wasm = path.join(folder, 'kernels.wasm');
    await run('npx', ['asc', path.join(from, 'index.ts'), ...FLAGS, ...MEMORY, '-o', wasm]);
    const base64 = readFileSync(wasm).toString('base64');
    writeFileSync(target, `${mark}\n/** Made by scripts/kernels.mjs. */\nexport const KERNELS = '${base64}';\n`);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

if (process.argv[1] === import.meta.filename) await kernels();
