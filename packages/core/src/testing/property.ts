/**
 * Property tests, with the same cases at every run: what fails, fails for whoever changed something. `npm run fuzz` looks at others each
 * time, and prints the seed with what it finds; FUZZ_SEED runs that again.
 */
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env.FUZZ_SEED ?? 20_261_129) });

export default fc;
