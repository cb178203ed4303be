/** News of liveries from the database, whichever process made them: LISTEN on one connection, handed to whoever is subscribed. */
import { EventEmitter } from 'node:events';
import pg from 'pg';
import { log } from './log.ts';

export interface News {
  subscribe(liveryId: string, hear: (revision: number) => void): () => void;
  close(): Promise<void>;
}

export function listen(url: string): News {
  const emitter = new EventEmitter().setMaxListeners(0);
  let client: pg.Client | null = null;
  let closed = false;
  const connect = async () => {
    if (closed) return;
    const next = new pg.Client({ connectionString: url });
    next.on('error', () => {});
    next.on('end', () => void setTimeout(() => void connect(), 500));
    next.on('notification', ({ payload }) => {
      const [id, revision] = (payload ?? '').split(' ');
      emitter.emit(id, Number(revision));
    });
    try {
      await next.connect();
      await next.query('listen livery');
      client = next;
    } catch (error) {
      log.debug({ error: String(error) }, 'listening again soon');
      await next.end().catch(() => {});
    }
  };
  void connect();
  return {
    subscribe(liveryId, hear) {
      emitter.on(liveryId, hear);
      return () => emitter.off(liveryId, hear);
    },
    async close() {
      closed = true;
      await client?.end().catch(() => {});
    },
  };
}
