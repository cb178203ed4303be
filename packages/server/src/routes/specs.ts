import { z } from 'zod';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { deliveredBy } from '@wet-lacquer/core/livery/livery.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { readSpec, type DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { SpecCard } from '@wet-lacquer/sync/answers.ts';
import { onlySeen } from '../people/access.ts';
import { each, guarded, type Guarded, type Rule } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { targetOf } from '../jobs/target.ts';
import { getLivery, listRead } from '../store/liveries.ts';
import { getSpec, listSpecs, putSpec } from '../store/specs.ts';
import { getTemplate, ownSpecs } from '../store/templates.ts';
import { answer, bodyOf, idOf } from './http.ts';

const Trial = z.strictObject({ spec: z.unknown(), livery: z.string() });

/** Whoever may copy a spec; of one that a template brings, the template. What came with the product is everybody's. */
const ofKey: Rule = async ({ params }, db) => {
  const { key } = params;
  if (SHIPPED_SPECS[String(key)]) return [];
  const brought = (await ownSpecs(db)).find(({ spec }) => spec.key === key);
  return brought ? each('template', 'copy', [brought.hash]) : each('spec', 'copy', [key]);
};

/** Whoever a spec belongs to; a new one will be whoever's makes it. */
const ofSpec: Rule = async ({ body }, db) => {
  const key = String((body as { key?: unknown } | undefined)?.key);
  return (await listSpecs(db)).some((spec) => spec.key === key) ? each('spec', 'own', [key]) : [];
};

/** Whoever may copy the livery that a spec is tried on. */
const ofTrial: Rule = ({ body }) => each('livery', 'copy', [(body as { livery?: unknown } | undefined)?.livery]);

/** Delivery specs: shipped, brought by templates, and made by painters. */
export function specs({ db, config }: Services): Guarded {
  const router = guarded();

  router.get('/', 'painters', async (_req, res) => {
    const made = await onlySeen(db, 'spec', await listSpecs(db), ({ key }) => key);
    const keys = new Set([...made.map((spec) => spec.key), ...Object.keys(SHIPPED_SPECS)]);
    const seen = await onlySeen(db, 'template', await ownSpecs(db), ({ hash }) => hash);
    const own = seen
      .map(({ spec }) => spec)
      .filter((spec) => !keys.has(spec.key))
      .filter((spec, i, all) => all.findIndex((other) => other.key === spec.key) === i);
    const used = new Map<string, number>();
    for (const { read } of await listRead(db)) {
      for (const { key } of read.livery ? deliveredBy(read.livery) : []) used.set(key, (used.get(key) ?? 0) + 1);
    }
    const card = (from: 'shipped' | 'template' | 'made') => (spec: DeliverySpec) => ({
      key: spec.key,
      version: spec.version,
      gameName: spec.gameName,
      game: spec.game,
      from,
      files: spec.files.length,
      sidecars: spec.sidecars.length,
      package: spec.package?.name ?? null,
      formats: [...new Set(spec.files.map((file) => (file.container === 'dds' ? file.format : file.container)))],
      liveries: used.get(spec.key) ?? 0,
    });
    answer<SpecCard[]>(res, [
      ...made.map(card('made')),
      ...Object.values(SHIPPED_SPECS).map(card('shipped')),
      ...own.map(card('template')),
    ]);
  });

  router.get('/:key', ofKey, async (req, res) => {
    res.json(await getSpec(db, req.params.key));
  });

  /** Keeps a new version. */
  router.post('/', ofSpec, async (req, res) => {
    const document = readSpec(req.body, 'This');
    await putSpec(db, document);
    res.status(201).json({ key: document.key, version: document.version });
  });

  /** Names and sidecars as a livery's delivery by such a spec would have them. Nothing is kept. */
  router.post('/trial', ofTrial, async (req, res) => {
    const { spec: body, livery: id } = bodyOf(Trial, req.body);
    const spec = readSpec(body, 'This');
    const { livery } = await getLivery(db, idOf(id));
    const template = await getTemplate(db, livery.pins.template);
    const target = await targetOf(db, config, id, livery, template, spec);
    const plan = planDelivery(livery, template, spec, target);
    res.json({
      folder: plan.folder,
      package: plan.package,
      files: plan.files.map((file) => ({
        name: file.name,
        kind: file.kind,
        leftOut: file.kind === 'sheet' ? file.leftOut : null,
        text: file.kind === 'sidecar' ? file.text : null,
        problems: file.kind === 'sidecar' ? file.problems : [],
      })),
    });
  });

  return router;
}
