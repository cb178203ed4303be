import express from 'express';
import { z } from 'zod';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { onlySeen, rolesOf } from '../people/access.ts';
import { guarded, type Guarded, the } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { addDecal, listDecals, removeDecal } from '../store/decals.ts';
import { answer, bodyOf, bytesOf, idOf, leaving } from './http.ts';

const Facts = z.object({
  name: z.string().trim().min(1).max(80),
  tags: z.string().max(200).default(''),
  origin: z.string().max(200).default('own work'),
  licence: z.string().max(80).default('not stated'),
});

export function decals({ db, threads }: Services): Guarded {
  const router = guarded();

  router.get('/', 'painters', async (_req, res) => {
    const seen = await onlySeen(db, 'decal', await listDecals(db), ({ id }) => id);
    const roleIn = await rolesOf(
      db,
      'decal',
      seen.map(({ id }) => id),
    );
    answer<DecalCard[]>(
      res,
      seen.map((one) => ({ ...one, role: roleIn(one.id) })),
    );
  });

  /** The file itself is the body; what is known of it comes as query values. */
  router.post('/', 'painters', express.raw({ type: () => true, limit: '64mb' }), async (req, res) => {
    const { tags, ...facts } = bodyOf(Facts, req.query);
    const bytes = bytesOf(req.body);
    const imported = await threads.run('importDecal', { bytes }, leaving(res));
    res.status(201).json(
      await addDecal(db, imported, {
        ...facts,
        tags: tags
          .split(',')
          .map((tag) => tag.trim())
          .filter(Boolean),
      }),
    );
  });

  router.delete('/:id', the('decal', 'own'), async (req, res) => {
    await removeDecal(db, idOf(req.params.id));
    res.status(204).end();
  });

  return router;
}
