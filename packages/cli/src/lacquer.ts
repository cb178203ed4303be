/** The command line: `lacquer VERB ...`. */
import os from 'node:os';
import { parseArgs } from 'node:util';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { UsageError, type Values, type Verb } from './verb.ts';
/** Each verb comes with what it needs when it is asked for: a short answer should not wait for a reader of layered files. */
const VERBS: readonly [name: string, load: () => Promise<Verb>][] = [
  ['inspect', async () => (await import('./verbs/inspect.ts')).inspect],
  ['encode', async () => (await import('./verbs/encode.ts')).encode],
  ['decode', async () => (await import('./verbs/decode.ts')).decode],
  ['compare', async () => (await import('./verbs/compare.ts')).compare],
  ['flatten', async () => (await import('./verbs/flatten.ts')).flatten],
  ['uv', async () => (await import('./verbs/uv.ts')).uv],
  ['search', async () => (await import('./verbs/container.ts')).search],
  ['take', async () => (await import('./verbs/container.ts')).take],
  ['put', async () => (await import('./verbs/container.ts')).put],
  ['bring', async () => (await import('./verbs/bring.ts')).bring],
  ['start', async () => (await import('./verbs/start.ts')).start],
  ['edit', async () => (await import('./verbs/edit.ts')).edit],
  ['check', async () => (await import('./verbs/check.ts')).check],
  ['deliver', async () => (await import('./verbs/deliver.ts')).deliver],
  ['bay', async () => (await import('./verbs/bay.ts')).bay],
];

const usage = async () =>
  [
    'lacquer VERB ...   (every verb takes --json)',
    ...(await Promise.all(VERBS.map(([, load]) => load()))).map(
      (v) => `  lacquer ${v.name} ${v.usage}\n      ${v.what}`,
    ),
  ].join(os.EOL);

/** How the command line ends. */
export interface Outcome {
  /** 0: done; 1: the input is at fault; 2: wrong usage. */
  status: number;
  stdout: string;
  stderr: string;
}

/** Runs a verb. @param argv what stands after `lacquer` */
export async function main(argv: readonly string[]): Promise<Outcome> {
  const verb = await VERBS.find(([name]) => name === argv[0])?.[1]();
  if (!verb) {
    const asked = argv[0] === '--help' || argv[0] === 'help';
    const text = await usage();
    return asked ? { status: 0, stdout: text, stderr: '' } : { status: 2, stdout: '', stderr: text };
  }
  try {
    let parsed;
    try {
      parsed = parseArgs({
        args: argv.slice(1),
        allowPositionals: true,
        options: { json: { type: 'boolean' }, ...verb.options },
      });
    } catch (error) {
      throw new UsageError((error as Error).message.split('\n')[0]);
    }
    const given = parsed.positionals.length;
    if (given < verb.args || (given > verb.args && !verb.more))
      throw new UsageError(`usage: lacquer ${verb.name} ${verb.usage}`);
    const result = await verb.run(parsed.positionals, parsed.values as Values);
    return {
      status: result.code ?? 0,
      stdout: parsed.values.json ? JSON.stringify(result.json) : result.text,
      stderr: '',
    };
  } catch (error) {
    if (error instanceof UsageError || error instanceof InputError)
      return { status: error instanceof UsageError ? 2 : 1, stdout: '', stderr: error.message };
    throw error;
  }
}
