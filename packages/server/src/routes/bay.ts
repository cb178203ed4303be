import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { GameCard, GameFile, GameShown } from '@wet-lacquer/sync/answers.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { BAY_GAMES, bayGame } from '@wet-lacquer/core/games/index.ts';
import { gameFolder, readGameFolder, stampOf } from '@wet-lacquer/node/gameFolder.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { holdLatest } from '@wet-lacquer/core/held.ts';
import { newLivery } from '@wet-lacquer/core/livery/newLivery.ts';
import type { BayShot } from '@wet-lacquer/node/threads/bay.ts';
import { z } from 'zod';
import { readyScene } from '../jobs/fields.ts';
import { templateOfGame } from '../store/templates.ts';
import { answer, bodyOf } from './http.ts';
import { NotFound } from '../host/errors.ts';
import { guarded, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';

/** Pictures that are kept: one of each game and a few more. */
const MOST_PICTURES = 24;
const Shown = z.object({ own: z.literal('yes').optional(), wide: z.literal('yes').optional() });
/** How wide a game that draws by itself draws where it is looked at closely, pixels. */
const WIDE = 1280;

/** The stand-in games' own folders, as they are on disk, and a picture of each; what is looked at closely is loaded in the browser. */
export function bay({ config, db, threads }: Services): Guarded {
  const router = guarded();
  const pictures = new Map<string, Promise<BayShot>>();
  const rootOf = (game: string) => {
    if (!bayGame(game)) throw new NotFound(`There is no game "${game}" in the test bay.`);
    return gameFolder(config.data, game);
  };

  router.get('/', 'painters', (_req, res) => {
    answer<GameCard[]>(
      res,
      BAY_GAMES.map(({ key, name }) => ({ game: key, gameName: name })),
    );
  });

  router.get('/:game', 'painters', async (req, res) => {
    const files = await readGameFolder(rootOf(req.params.game));
    answer<GameFile[]>(
      res,
      [...files]
        .map(([name, bytes]) => ({ name, bytes: bytes.length, hash: hashOf(bytes) }))
        .sort((a, b) => (a.name < b.name ? -1 : 1)),
    );
  });

  /** What a game's players see, by its own loader, and a name for this very picture: it changes when anything in the folder does. */
  const shot = async (game: string, query: unknown): Promise<{ key: string; made: BayShot }> => {
    const { own, wide } = bodyOf(Shown, query);
    const root = rootOf(game);
    const template = await templateOfGame(db, game);
    if (!template) throw new NotFound('There is no template of this game.');
    const { document, hash } = template;
    const key = hashOf(`${hash} ${wide ?? ''} ${own ?? (await stampOf(root))}`);
    const make = async () =>
      threads.run('bayPicture', {
        game,
        template: document,
        files: own ? new Map<string, Uint8Array>() : await readGameFolder(root),
        began: own ? await readyScene(db, threads, newLivery(document, hash, 'Own')) : null,
        ...(wide && { width: WIDE }),
      });
    const making = pictures.get(key) ?? make();
    holdLatest(pictures, key, making, MOST_PICTURES);
    try {
      return { key, made: await making };
    } catch (error) {
      pictures.delete(key);
      throw error;
    }
  };

  router.get('/:game/shown', 'painters', async (req, res) => {
    const { key, made } = await shot(req.params.game, req.query);
    answer<GameShown>(res, { picture: key, livery: made.livery, title: made.title, liveries: made.liveries });
  });

  router.get('/:game/picture', 'painters', async (req, res) => {
    const { key, made } = await shot(req.params.game, req.query);
    res
      .set({ ETag: `"${key}"`, 'Cache-Control': 'no-cache' })
      .type('png')
      .send(Buffer.from(made.png));
  });

  router.get('/:game/files/*name', 'painters', async (req, res) => {
    const root = rootOf(req.params.game);
    const file = path.join(root, ...(req.params.name as unknown as string[]));
    if (!file.startsWith(root + path.sep)) throw new InputError('This path leaves the game’s folder.');
    const bytes = await readFile(file).catch(() => null);
    if (!bytes) throw new NotFound('This file is no longer there.');
    res.set('Cache-Control', 'no-cache').type('application/octet-stream').send(bytes);
  });

  return router;
}
