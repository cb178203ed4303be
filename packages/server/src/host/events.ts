/** News from the database, whichever process made them: LISTEN on one connection, handed to whoever is subscribed. */
import { EventEmitter } from 'node:events';
import pg from 'pg';
import { log } from './log.ts';

/**
 * livery: "id revision", a log has grown. access: "kind id", somebody may more or less than before. here: "id", who has a livery open. notes: "id", something was said of a livery. publish: "host", files are made and wait for their place. work: "queue", there is something to do.
 */
const CHANNELS = ['livery', 'publish', 'work', 'access', 'here', 'notes'] as const;

export interface News {
  /** New revisions of a livery. */
  subscribe(liveryId: string, hear: (revision: number) => void): () => void;
  /** Deliveries of this host that are to be put in their place. */
  onPublish(host: string, hear: () => void): void;
  /** Something was put into a queue; also when news may have been missed. */
  onWork(hear: () => void): () => void;
  /** Somebody may do more or less with a thing than before, or is signed out: "livery ID", "painter ID". Also when news may have been missed. */
  onAccess(hear: (what: string | null) => void): () => void;
  /** Who has a livery open is no longer the same. */
  onHere(liveryId: string, hear: () => void): () => void;
  /** Something was said of a livery, answered, or ticked off. */
  onNotes(liveryId: string, hear: () => void): () => void;
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
    next.on('notification', ({ channel, payload = '' }) => {
      const [name, revision] = payload.split(' ');
      if (channel === 'livery') emitter.emit(`livery ${name}`, Number(revision));
      else if (channel === 'publish') emitter.emit('publish', name);
      else if (channel === 'access') emitter.emit('access', payload);
      else if (channel === 'here' || channel === 'notes') emitter.emit(`${channel} ${payload}`);
      else emitter.emit('work');
    });
    try {
      await next.connect();
      for (const channel of CHANNELS) await next.query(`listen ${channel}`);
      client = next;
      // Whatever was said while nobody listened.
      emitter.emit('publish', '');
      emitter.emit('work');
      emitter.emit('access', null);
    } catch (error) {
      log.debug({ error: String(error) }, 'listening again soon');
      await next.end().catch(() => {});
    }
  };
  void connect();
  return {
    subscribe(liveryId, hear) {
      emitter.on(`livery ${liveryId}`, hear);
      return () => emitter.off(`livery ${liveryId}`, hear);
    },
    onPublish: (host, hear) => void emitter.on('publish', (name: string) => (name === '' || name === host) && hear()),
    onWork(hear) {
      emitter.on('work', hear);
      return () => emitter.off('work', hear);
    },
    onAccess(hear) {
      emitter.on('access', hear);
      return () => emitter.off('access', hear);
    },
    onHere(liveryId, hear) {
      emitter.on(`here ${liveryId}`, hear);
      return () => emitter.off(`here ${liveryId}`, hear);
    },
    onNotes(liveryId, hear) {
      emitter.on(`notes ${liveryId}`, hear);
      return () => emitter.off(`notes ${liveryId}`, hear);
    },
    async close() {
      closed = true;
      await client?.end().catch(() => {});
    },
  };
}
