import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { Router } from 'express';
import type { GameCard, GameFile } from '@wet-lacquer/sync/answers.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { BAY_GAMES, bayGame } from '@wet-lacquer/core/games/index.ts';
import { gameFolder, readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { answer } from './http.ts';
import { NotFound } from '../host/errors.ts';
import type { Services } from '../host/services.ts';

/** The stand-in games' own folders, as they are on disk; the loaders themselves run in the browser. */
export function bay({ config }: Services): Router {
  const router = Router();
  const rootOf = (game: string) => {
    if (!bayGame(game)) throw new NotFound(`There is no game "${game}" in the test bay.`);
    return gameFolder(config.data, game);
  };

  router.get('/', (_req, res) => {
    answer<GameCard[]>(
      res,
      BAY_GAMES.map(({ key, name }) => ({ game: key, gameName: name })),
    );
  });

  router.get('/:game', async (req, res) => {
    const files = await readGameFolder(rootOf(req.params.game));
    answer<GameFile[]>(
      res,
      [...files]
        .map(([name, bytes]) => ({ name, bytes: bytes.length, hash: hashOf(bytes) }))
        .sort((a, b) => (a.name < b.name ? -1 : 1)),
    );
  });

  router.get('/:game/files/*name', async (req, res) => {
    const root = rootOf(req.params.game);
    const file = path.join(root, ...(req.params.name as unknown as string[]));
    if (!file.startsWith(root + path.sep)) throw new InputError('This path leaves the game’s folder.');
    const bytes = await readFile(file).catch(() => null);
    if (!bytes) throw new NotFound('This file is no longer there.');
    res.set('Cache-Control', 'no-cache').type('application/octet-stream').send(bytes);
  });

  return router;
}
