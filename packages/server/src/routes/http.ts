import type { Request, RequestHandler, Response } from 'express';
import { z } from 'zod';
import { checkPlain } from '@wet-lacquer/core/files/json.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Sent } from '@wet-lacquer/sync/answers.ts';
import type { Config } from '../host/config.ts';
import { NotFound } from '../host/errors.ts';
import { getBlob, getBlobPart, sizeOfBlob } from '../store/blobs.ts';
import type { Tx } from '../store/db.ts';

/** A request's body, checked. @throws InputError that names the field */
export function bodyOf<T>(schema: z.ZodType<T>, body: unknown): T {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new InputError(`${issue.path.join('.') || 'The request'}: ${issue.message}.`);
}

/** A revision of a livery, as the store can hold one. */
export const Revision = z
  .number()
  .int()
  .min(0)
  .max(2 ** 31 - 1);

/** @throws InputError when a part of the path is no revision */
export function revisionOf(value: unknown): number {
  const parsed = Revision.safeParse(typeof value === 'string' && /^\d{1,10}$/.test(value) ? Number(value) : null);
  if (!parsed.success) throw new InputError('This is not the number of a revision.');
  return parsed.data;
}

/** The body of an upload; an upload of nothing has no bytes. */
export const bytesOf = (body: unknown): Uint8Array => (Buffer.isBuffer(body) ? new Uint8Array(body) : new Uint8Array());

/** @throws NotFound when a part of the path is not an id */
export function idOf(value: unknown): string {
  if (typeof value !== 'string' || !/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(value))
    throw new NotFound('There is nothing at this address.');
  return value;
}

/** Answers with JSON of a kind that the page knows. */
export const answer = <T>(res: Response, body: Sent<T>): void => void res.json(body);

/** Bytes that never change under their address. */
export function sendForEver(res: Response, type: string, bytes: Uint8Array): void {
  res.set('Cache-Control', 'private, max-age=31536000, immutable').type(type).send(Buffer.from(bytes));
}

/**
 * A blob, or the part of it that was asked for (RFC 9110, 13 and 14: one range at a time, `If-Range` and `If-None-Match` by its entity
 * tag, which is its hash).
 */
export async function sendBlob(req: Request, res: Response, tx: Tx, hash: string): Promise<void> {
  const size = await sizeOfBlob(tx, hash);
  const tag = `"${hash}"`;
  res.set({ 'Cache-Control': 'private, max-age=31536000, immutable', 'Accept-Ranges': 'bytes', ETag: tag });
  res.type('application/octet-stream');
  // The same bytes are there already: none are read.
  if (req.fresh) return void res.status(304).end();
  const asked = (req.get('if-range') ?? tag) === tag ? req.range(size) : undefined;
  if (asked === -1) {
    res.status(416).set('Content-Range', `bytes */${size}`).removeHeader('Cache-Control');
    return void res.json({ error: `There are ${size} bytes, and none where they were asked for.` });
  }
  if (!Array.isArray(asked) || asked.type !== 'bytes' || asked.length !== 1)
    return void res.send(Buffer.from(await getBlob(tx, hash)));
  const [{ start, end }] = asked;
  res.status(206).set('Content-Range', `bytes ${start}-${end}/${size}`);
  res.send(Buffer.from(await getBlobPart(tx, hash, { from: start, to: end })));
}

/** Fires when whoever asked has gone before the answer: what was begun for it is ended. */
export function leaving(res: Response): AbortSignal {
  const stop = new AbortController();
  res.on('close', () => {
    if (!res.writableFinished) stop.abort();
  });
  return stop.signal;
}

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

type Served = Pick<Config, 'origin' | 'signIn'>;

/** Where pages are served from, for whoever asks. */
export const originOf = ({ origin }: Pick<Config, 'origin'>, req: Request): string =>
  origin ?? `http://${req.get('host')}`;

/** Under another name than its own nothing is served, the page itself neither (DNS rebinding). */
export const onlyItsHosts =
  ({ origin }: Served): RequestHandler =>
  (req, res, next) => {
    const host = req.get('host') ?? '';
    if (origin ? host === new URL(origin).host : LOOPBACK.test(host)) next();
    else res.status(403).type('text').send('This server answers only to its own address.');
  };

/**
 * Only pages that this server itself served may talk to it, whatever cookies a browser sends along (OWASP Cross-Site Request Forgery
 * Prevention: verifying origin with standard headers, and fetch metadata). Its hosts were looked at before.
 */
export const onlyOwnPages =
  (config: Served): RequestHandler =>
  (req, res, next) => {
    const origin = req.get('origin');
    const site = req.get('sec-fetch-site');
    const own = origin ? origin === originOf(config, req) : site ? site === 'same-origin' || site === 'none' : null;
    // A browser says one of the two of whatever changes something; with sign-in on, whoever says neither is not taken for one.
    const reads = req.method === 'GET' || req.method === 'HEAD';
    if (own ?? (reads || !config.signIn)) next();
    else res.status(403).json({ error: 'Only pages from this server may use it.' });
  };

/** Nothing strange in an address, a question or a document: what no store can hold, or the language itself means by it. */
export const onlyPlain: RequestHandler = (req, _res, next) => {
  let path: string;
  try {
    path = decodeURIComponent(req.path);
  } catch {
    throw new InputError('The address cannot be read.');
  }
  checkPlain(path, 'The address');
  checkPlain(req.query, 'The question');
  if (!Buffer.isBuffer(req.body)) checkPlain(req.body, 'The request');
  next();
};
