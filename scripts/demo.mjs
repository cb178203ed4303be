/** npm run demo: makes the demo world's files from its scripts, and delivers its liveries by the server. */
import { build, debian, packages, run } from './steps.mjs';
import { runWithCluster } from './withCluster.mjs';

await packages({ tests: true });
await debian('postgres');
console.log(await run('npx', ['tsx', 'demo/make.ts']));
await build();
process.exit(await runWithCluster([['demo/deliver.ts']]));
