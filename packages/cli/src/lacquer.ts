/** The command line: `lacquer VERB ...`. */
import os from 'node:os';
import { parseArgs } from 'node:util';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { UsageError, type Verb } from './verb.ts';
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

async function main(argv: string[]): Promise<number> {
  const verb = await VERBS.find(([name]) => name === argv[0])?.[1]();
  if (!verb) {
    (argv[0] === '--help' || argv[0] === 'help' ? console.log : console.error)(await usage());
    return argv[0] === '--help' || argv[0] === 'help' ? 0 : 2;
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
    if (parsed.positionals.length !== verb.args) throw new UsageError(`usage: lacquer ${verb.name} ${verb.usage}`);
    const result = await verb.run(parsed.positionals, parsed.values as Record<string, string | boolean | undefined>);
    console.log(parsed.values.json ? JSON.stringify(result.json) : result.text);
    return result.code ?? 0;
  } catch (error) {
    if (error instanceof UsageError || error instanceof InputError) {
      console.error(error.message);
      return error instanceof UsageError ? 2 : 1;
    }
    throw error;
  }
}

process.exit(await main(process.argv.slice(2)));
