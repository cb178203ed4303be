/** npm run siege [-- crowd SECONDS | hundred SECONDS | kills HOW-MANY DELIVERIES]: painters, deliveries and kills, all on loopback; prints what was lost. */
import { build, debian, packages } from './steps.mjs';
import { runWithCluster } from './withCluster.mjs';

await packages({ tests: true });
await debian('postgres', 'chromium');
await build();
process.exitCode = await runWithCluster([['siege/siege.ts', ...process.argv.slice(2)]]);
