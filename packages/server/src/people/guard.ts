/** Who asks, and whether they may. Every route says who may use it where it is defined: there is no way of defining one without. */
import { parse as parseCookies } from 'cookie';
import express, { Router, type Request, type RequestHandler, type Response } from 'express';
import type { RouteParameters } from 'express-serve-static-core';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { fontHashes } from '@wet-lacquer/node/fonts.ts';
import type { Config } from '../host/config.ts';
import { Forbidden, NotFound, NotSignedIn } from '../host/errors.ts';
import type { Services } from '../host/services.ts';
import type { Db } from '../store/db.ts';
import type { Kind, Role } from '../store/schema.ts';
import { linkOf, outOfReach, rankOf, roleOf } from './access.ts';
import { whoHas } from './sessions.ts';
import { asWho, type Painter, type Who } from './who.ts';

/** A thing, and what one must be allowed to do with it. */
export interface Thing {
  kind: Kind;
  id: string;
  role: Role;
}
/** Who may use a route: whoever asks, whoever is signed in, keepers, or whoever may do something with some things. */
export type Rule = 'anyone' | 'painters' | 'keepers' | ((asked: Request, db: Db) => Thing[] | Promise<Thing[]>);

/** A router whose routes say who may use them. Hashes in an address, a question or a body are looked at whatever the rule says. */
export interface Guarded extends RequestHandler {
  stack: Router['stack'];
  get: Add;
  post: Add;
  put: Add;
  delete: Add;
}
type Add = <P extends string>(path: P, rule: Rule, ...handlers: RequestHandler<RouteParameters<P>>[]) => Guarded;

const METHODS = ['get', 'post', 'put', 'delete'] as const;

/** Marks the handler that guards a route, for whoever looks through them. */
export const GUARDS = Symbol('guards');

export function guarded(): Guarded {
  const router = Router({ mergeParams: true }) as unknown as Guarded;
  for (const method of METHODS) {
    const plain = router[method].bind(router) as unknown as (path: string, ...handlers: RequestHandler[]) => void;
    router[method] = ((path: string, rule: Rule, ...handlers: RequestHandler[]) => {
      plain(path, guardOf(rule), ...handlers);
      return router;
    }) as Add;
  }
  return router;
}

/** A thing that the address names as `:id`. */
export const the =
  (kind: Kind, role: Role, param = 'id'): Rule =>
  ({ params }) => [{ kind, id: String(params[param]), role }];

/** Things of one kind. */
export const each = (kind: Kind, role: Role, ids: readonly unknown[]): Thing[] =>
  ids.map((id) => ({ kind, id: String(id), role }));

function guardOf(rule: Rule): RequestHandler {
  const guard: RequestHandler = async (req, res, next) => {
    const { db, config } = servicesOf(req);
    if (config.signIn && rule !== 'anyone') await check(rule, req, whoAsks(res), db);
    next();
  };
  return Object.assign(guard, { [GUARDS]: rule });
}

const servicesOf = (req: Request) => req.app.locals.services as Services;
export const whoAsks = (res: Response): Who => (res.locals.who as Who | undefined) ?? null;

/** Whoever is signed in. @throws NotSignedIn */
export function painterOf(res: Response): Painter {
  const who = whoAsks(res);
  if (who?.is !== 'painter') throw new NotSignedIn('Sign in first.');
  return who;
}

async function check(rule: Exclude<Rule, 'anyone'>, req: Request, who: Who, db: Db): Promise<void> {
  if (!who) throw new NotSignedIn('Sign in first.');
  const things = typeof rule === 'function' ? await rule(req, db) : null;
  if (who.is === 'looker') {
    const own = ({ kind, id, role }: Thing) => kind === 'livery' && role === 'look' && id === who.livery;
    if (things && things.length > 0 && things.every(own)) return;
    throw new Forbidden('This link is for looking only.');
  }
  if (rule === 'keepers' && !who.keeper) throw new Forbidden('Only whoever looks after this server can do that.');
  for (const { kind, id, role } of things ?? []) {
    const has = await roleOf(db, who, kind, id);
    if (has === 0) throw new NotFound('There is nothing at this address.');
    if (has < rankOf(role)) throw new Forbidden(SHARED[role]);
  }
  const { body } = req as { body?: unknown };
  const said = [req.params, req.query, Buffer.isBuffer(body) ? null : body];
  const shipped = new Set((await fontHashes()).values());
  const hashes = new Set(
    (JSON.stringify(said).match(/[0-9a-f]{64}/g) ?? []).filter((hash) => !shipped.has(hash as never)),
  );
  const [far] = await outOfReach(db, who, [...hashes]);
  if (far) throw new InputError(`There is nothing stored under ${far.slice(0, 12)}.`);
  if (personsIn(body).some((person) => person !== who.id)) throw new Forbidden('Everybody makes only their own steps.');
}

const SHARED: Readonly<Record<Role, string>> = {
  look: 'This is not shared with you.',
  copy: 'This is shared with you to look at, not to copy.',
  paint: 'This is shared with you to look at, not to paint.',
  own: 'Only whoever it belongs to can do that.',
};

/** Whose steps a body says that it holds. */
function personsIn(body: unknown): unknown[] {
  if (typeof body !== 'object' || body === null) return [];
  const { person, entries } = body as { person?: unknown; entries?: unknown };
  const steps = Array.isArray(entries) ? (entries as { person?: unknown }[]).map((one) => one?.person) : [];
  return person === undefined ? steps : [person, ...steps];
}

/** Names of cookies; the prefix makes browsers take them from this very host alone, and through TLS (RFC 6265bis, 4.1.3.2). */
const SESSION = '__Host-wet-lacquer';
const LOOK = '__Host-wet-lacquer-look';
const COOKIE = { httpOnly: true, secure: true, sameSite: 'strict', path: '/' } as const;
const LONG_MS = 90 * 86_400_000;

export const giveSession = (res: Response, token: string) =>
  void res.cookie(SESSION, token, { ...COOKIE, maxAge: LONG_MS });
export const giveLook = (res: Response, token: string) => void res.cookie(LOOK, token, COOKIE);
export function takeCookies(res: Response): void {
  res.clearCookie(SESSION, COOKIE).clearCookie(LOOK, COOKIE);
}

async function whoIs(db: Db, req: Request): Promise<{ who: Who; turned: string | null }> {
  const cookies = parseCookies(req.get('cookie') ?? '');
  const found = cookies[SESSION] ? await whoHas(db, cookies[SESSION]) : null;
  if (found || !cookies[LOOK]) return found ?? { who: null, turned: null };
  const link = await linkOf(db, cookies[LOOK]);
  return { who: link?.kind === 'livery' ? { is: 'looker', livery: link.object } : null, turned: null };
}

/** What whoever asked may do with a livery by now, however long ago they asked: 0 nothing, to 4, see role_of. */
export async function roleStill(
  { db, config }: Pick<Services, 'db' | 'config'>,
  req: Request,
  id: string,
): Promise<number> {
  return config.signIn ? roleWith(db, (await whoIs(db, req)).who, id) : rankOf('own');
}

/** The same, of whoever asks, as long as that is just being answered. */
export const roleHere = (
  { db, config }: Pick<Services, 'db' | 'config'>,
  res: Response,
  id: string,
): Promise<number> => (config.signIn ? roleWith(db, whoAsks(res), id) : Promise.resolve(rankOf('own')));

async function roleWith(db: Db, who: Who, id: string): Promise<number> {
  if (who?.is === 'painter') return roleOf(db, who, 'livery', id);
  return who?.livery === id ? rankOf('look') : 0;
}

/** Finds out who asks, by what their browser keeps. */
export const knowWho =
  ({ db, config }: Pick<Services, 'db' | 'config'>): RequestHandler =>
  async (req, res, next) => {
    if (!config.signIn) return next();
    res.set('Cache-Control', 'no-store');
    const { who, turned } = await whoIs(db, req);
    if (turned) giveSession(res, turned);
    res.locals.who = who;
    asWho(who, next);
  };

/** The body as JSON; of somebody who is not known, little of it. */
export function readJson(config: Config): RequestHandler {
  const [much, little] = [express.json({ limit: '16mb' }), express.json({ limit: '64kb' })];
  return (req, res, next) => (config.signIn && !whoAsks(res) ? little : much)(req, res, next);
}
