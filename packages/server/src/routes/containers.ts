import express, { type Request } from 'express';
import { z } from 'zod';
import { lastOf } from '@wet-lacquer/core/held.ts';
import { baseOf } from '@wet-lacquer/core/paths.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { readJson } from '@wet-lacquer/core/files/json.ts';
import { guarded, type Guarded } from '../people/guard.ts';
import type { Services } from '../host/services.ts';
import { getBlob, putBlob } from '../store/blobs.ts';
import { bodyOf, bytesOf, leaving } from './http.ts';

const Way = z.array(z.string().min(1).max(1000)).min(1).max(4);
const Copy = z.strictObject({ way: Way, name: z.string().trim().min(1).max(200), users: z.array(Way).max(2000) });
/** A name with the spaces about each of its parts taken off. */
const trimmed = (name: string) =>
  name
    .split('/')
    .map((part) => part.trim())
    .join('/');
const Rename = z.strictObject({ way: Way, name: z.string().max(400).transform(trimmed).pipe(z.string().min(1)) });
const Text = z.strictObject({ way: Way, text: z.string().max(4 * 1024 * 1024) });
const MOST = 500;

/**
 * Zip-based files of any ending: searched, an entry taken out, an entry replaced with all others left byte for byte. A container is named
 * by the hash of its bytes and never changes; what is done to it gives another.
 */
export function containers({ db, threads }: Services): Guarded {
  const router = guarded();
  const upload = express.raw({ type: () => true, limit: '512mb' });
  const bytes = (req: Request) => getBlob(db, String(req.params.hash));
  const wayOf = (req: Request) => {
    if (typeof req.query.way !== 'string') throw new InputError('Which file is meant was not said.');
    return bodyOf(Way, readJson(req.query.way, 'The file that is meant'));
  };

  router.post('/', 'painters', upload, async (req, res) => {
    const content = bytesOf(req.body);
    // Refused before it is kept.
    await threads.run('listContainer', { bytes: content, text: '', most: 0 }, leaving(res));
    res.status(201).json({ hash: await putBlob(db, content) });
  });

  router.get('/:hash', 'painters', async (req, res) => {
    const text = String(req.query.text ?? '').slice(0, 200);
    res.json(await threads.run('listContainer', { bytes: await bytes(req), text, most: MOST }, leaving(res)));
  });

  router.get('/:hash/file', 'painters', async (req, res) => {
    const name = String(req.query.name ?? 'container.zip').replace(/[^\w.+ -]/g, '_');
    res
      .attachment(name)
      .type('application/octet-stream')
      .send(Buffer.from(await bytes(req)));
  });

  router.get('/:hash/entry', 'painters', async (req, res) => {
    const way = wayOf(req);
    const content = await threads.run('takeEntry', { bytes: await bytes(req), way }, leaving(res));
    res
      .attachment(baseOf(lastOf(way)))
      .type('application/octet-stream')
      .send(Buffer.from(content));
  });

  router.post('/:hash/entry', 'painters', upload, async (req, res) => {
    const task = { bytes: await bytes(req), way: wayOf(req), content: bytesOf(req.body) };
    res.status(201).json({ hash: await putBlob(db, await threads.run('putEntry', task, leaving(res))) });
  });

  /** A file under a name that is not there yet. */
  router.post('/:hash/entries', 'painters', upload, async (req, res) => {
    const change = { do: 'add' as const, content: bytesOf(req.body) };
    const way = wayOf(req);
    const task = { bytes: await bytes(req), way: way.with(-1, trimmed(lastOf(way))), change };
    res.status(201).json({ hash: await putBlob(db, await threads.run('changeContainer', task, leaving(res))) });
  });

  router.post('/:hash/names', 'painters', async (req, res) => {
    const { way, name } = bodyOf(Rename, req.body);
    const task = { bytes: await bytes(req), way, change: { do: 'rename' as const, name } };
    res.status(201).json({ hash: await putBlob(db, await threads.run('changeContainer', task, leaving(res))) });
  });

  /** The container without a file. */
  router.delete('/:hash/entry', 'painters', async (req, res) => {
    const task = { bytes: await bytes(req), way: wayOf(req), change: { do: 'remove' as const } };
    res.status(201).json({ hash: await putBlob(db, await threads.run('changeContainer', task, leaving(res))) });
  });

  router.get('/:hash/text', 'painters', async (req, res) => {
    res.json(await threads.run('textOfEntry', { bytes: await bytes(req), way: wayOf(req) }, leaving(res)));
  });

  router.post('/:hash/text', 'painters', async (req, res) => {
    const task = { bytes: await bytes(req), ...bodyOf(Text, req.body) };
    res.status(201).json({ hash: await putBlob(db, await threads.run('putText', task, leaving(res))) });
  });

  /** Files in it that mention a file. */
  router.get('/:hash/uses', 'painters', async (req, res) => {
    const name = wayOf(req).at(-1)!;
    res.json(await threads.run('usesOfEntry', { bytes: await bytes(req), name }, leaving(res)));
  });

  /** A copy of a file that only the named texts refer to. */
  router.post('/:hash/copies', 'painters', async (req, res) => {
    const task = { bytes: await bytes(req), ...bodyOf(Copy, req.body) };
    res.status(201).json({ hash: await putBlob(db, await threads.run('copyEntry', task, leaving(res))) });
  });

  return router;
}
