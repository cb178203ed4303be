/** Who has a livery open, and what they have in hand. */
import { and, asc, eq, gt, lt, sql } from 'drizzle-orm';
import type { Here } from '@wet-lacquer/sync/people.ts';
import type { Db } from '../store/db.ts';
import { here, painter } from '../store/schema.ts';
import type { Painter } from './who.ts';

/** Who has not been heard of for so long is not there. */
const GONE_MS = 45_000;

export interface InHand {
  window: string;
  sheet: string | null;
  layer: string | null;
}

/** Says that somebody is there; others hear of it where something is new. */
export async function beHere(db: Db, liveryId: string, who: Painter, { window, sheet, layer }: InHand): Promise<void> {
  const { rows } = await db.execute<{ same: boolean }>(sql`
    with before as (select sheet, layer, at from here where livery_id = ${liveryId} and "window" = ${window}),
    now as (
      insert into here (livery_id, "window", painter_id, sheet, layer) values (${liveryId}, ${window}, ${who.id}, ${sheet}, ${layer})
      on conflict (livery_id, "window") do update set sheet = excluded.sheet, layer = excluded.layer, at = now()
      where here.painter_id = excluded.painter_id returning 1)
    select exists (
      select 1 from before where sheet is not distinct from ${sheet} and layer is not distinct from ${layer}
        and at > ${new Date(Date.now() - GONE_MS).toISOString()}) as same from now`);
  if (rows[0] && !rows[0].same) await tell(db, liveryId);
}

export async function beGone(db: Db, liveryId: string, who: Painter, window: string): Promise<void> {
  const gone = await db
    .delete(here)
    .where(and(eq(here.liveryId, liveryId), eq(here.window, window), eq(here.painterId, who.id)))
    .returning({ window: here.window });
  await db.delete(here).where(lt(here.at, new Date(Date.now() - 20 * GONE_MS)));
  if (gone.length > 0) await tell(db, liveryId);
}

const tell = (db: Db, liveryId: string) => db.execute(sql`select pg_notify('here', ${liveryId})`);

export const whoIsHere = (db: Db, liveryId: string): Promise<Here[]> =>
  db
    .select({ window: here.window, id: painter.id, name: painter.name, sheet: here.sheet, layer: here.layer })
    .from(here)
    .innerJoin(painter, eq(painter.id, here.painterId))
    .where(and(eq(here.liveryId, liveryId), gt(here.at, new Date(Date.now() - GONE_MS))))
    .orderBy(asc(painter.name), asc(here.window));
