import { z } from 'zod';
import { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { words } from '@wet-lacquer/core/livery/words.ts';
import type { FitAnswer, TransferNews } from '@wet-lacquer/sync/answers.ts';
import { log } from '../host/log.ts';
import { each, guarded, type Guarded, type Rule } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { modelsOf, pairingOf, transferLivery } from '../jobs/transfer.ts';
import { getLivery } from '../store/liveries.ts';
import { answer, bodyOf, leaving } from './http.ts';

const AskedFit = z.strictObject({
  from: Sha256,
  to: Sha256,
  /** Left out: it is found. */
  fit: Fit.optional(),
  /** Which part comes from which is found anew for it. */
  pairAgain: z.boolean().default(false),
});
const Asked = z.strictObject({
  livery: z.uuid(),
  to: Sha256,
  fit: Fit,
  name: z.string().trim().min(1, 'give the livery a name').pipe(words(80)),
});

/** Whoever may copy the livery that is to go. */
const ofTransfer: Rule = ({ body }) => each('livery', 'copy', [(body as { livery?: unknown } | undefined)?.livery]);

/** Liveries that go onto other models. */
export function transfers({ db, threads }: Services): Guarded {
  const router = guarded();

  /** How one model goes onto another, and how well. */
  router.post('/fit', 'painters', async (req, res) => {
    const { from, to, fit: given, pairAgain } = bodyOf(AskedFit, req.body);
    const models = await modelsOf(db, from, to);
    const signal = leaving(res);
    const found = given ?? (await threads.run('fitModels', models, signal));
    const fit = pairAgain
      ? { ...found, pairs: await threads.run('pairParts', { ...models, fit: found }, signal) }
      : found;
    const { sheets, pairs } = await threads.run('lookAtFit', pairingOf(models, fit, [from, to]), signal);
    answer<FitAnswer>(res, {
      fit,
      parts: sheets
        .flatMap(({ parts }) => parts)
        .map((part) => ({ ...part, ...pairs.find((one) => one.part === part.part)! })),
      pictures: sheets.map(({ sheet, png }) => ({
        sheet,
        png: `data:image/png;base64,${Buffer.from(png).toString('base64')}`,
      })),
    });
  });

  /** Takes a livery onto another model. Lines of JSON: how far it is, and at last the new livery, or why there is none; who leaves ends it. */
  router.post('/', ofTransfer, async (req, res) => {
    const { livery: id, to, fit, name } = bodyOf(Asked, req.body);
    const { livery } = await getLivery(db, id);
    const signal = leaving(res);
    res.status(200).set({ 'Content-Type': 'application/x-ndjson', 'Cache-Control': 'no-store' });
    const tell = (news: TransferNews) => void res.write(`${JSON.stringify(news)}\n`);
    try {
      let last = 0;
      const report = (done: number) => {
        if (done - last < 0.01) return;
        last = done;
        tell({ done });
      };
      tell({ made: await transferLivery(db, threads, livery, to, fit, name, report, signal) });
    } catch (error) {
      if (signal.aborted) return;
      if (!(error instanceof InputError))
        log.error({ error: String(error) }, 'a livery could not be taken onto another model');
      tell({ why: error instanceof InputError ? error.message : 'The server could not do it; its log says why.' });
    } finally {
      res.end();
    }
  });
  return router;
}
