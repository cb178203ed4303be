import type { RequestHandler, Response } from 'express';
import type { z } from 'zod';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { NotFound } from '../host/errors.ts';

/** A request's body, checked. @throws InputError that names the field */
export function bodyOf<T>(schema: z.ZodType<T>, body: unknown): T {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new InputError(`${issue.path.join('.') || 'The request'}: ${issue.message}.`);
}

/** The body of an upload; an upload of nothing has no bytes. */
export const bytesOf = (body: unknown): Uint8Array => (Buffer.isBuffer(body) ? new Uint8Array(body) : new Uint8Array());

/** @throws NotFound when a part of the path is not an id */
export function idOf(value: unknown): string {
  if (typeof value !== 'string' || !/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(value))
    throw new NotFound('There is nothing at this address.');
  return value;
}

/** Bytes that never change under their address. */
export function sendForEver(res: Response, type: string, bytes: Uint8Array): void {
  res.set('Cache-Control', 'public, max-age=31536000, immutable').type(type).send(Buffer.from(bytes));
}

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** There is no sign-in: only pages that this server itself served may talk to it. */
export const onlyThisMachine: RequestHandler = (req, res, next) => {
  const origin = req.get('origin');
  const strange = !LOOPBACK.test(req.get('host') ?? '') || (origin && origin !== `http://${req.get('host')}`);
  if (strange) res.status(403).json({ error: 'Only pages from this server may use it.' });
  else next();
};
