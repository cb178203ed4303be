/** The command line: `lacquer VERB ...`. */
import os from 'node:os';
import { parseArgs } from 'node:util';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { UsageError, type Verb } from './verb.ts';
import { bay } from './verbs/bay.ts';
import { check } from './verbs/check.ts';
import { compare } from './verbs/compare.ts';
import { decode } from './verbs/decode.ts';
import { deliver } from './verbs/deliver.ts';
import { encode } from './verbs/encode.ts';
import { flatten } from './verbs/flatten.ts';
import { inspect } from './verbs/inspect.ts';
import { put, search, take } from './verbs/container.ts';
import { uv } from './verbs/uv.ts';

const VERBS: readonly Verb[] = [inspect, encode, decode, compare, flatten, uv, search, take, put, check, deliver, bay];

const usage = () =>
  [
    'lacquer VERB ...   (every verb takes --json)',
    ...VERBS.map((v) => `  lacquer ${v.name} ${v.usage}\n      ${v.what}`),
  ].join(os.EOL);

async function main(argv: string[]): Promise<number> {
  const verb = VERBS.find((v) => v.name === argv[0]);
  if (!verb) {
    (argv[0] === '--help' || argv[0] === 'help' ? console.log : console.error)(usage());
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
