/** What joins the logs of liveries, told to everybody who looks at them: read and written out once, however many hear it. */
import type { LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Db } from '../store/db.ts';
import { entriesSince } from '../store/liveries.ts';
import type { News } from './events.ts';
import { log } from './log.ts';

/** What is said: the log has come to this revision, with these entries last; where they do not follow on what is known, the rest is to be asked for. */
export interface Told {
  revision: number;
  entries: LoggedEntry[];
}

/** What comes meanwhile is told in one go. */
const GATHER_MS = 40;
/** Longer entries are not sent to everybody: who needs them asks. */
const MOST_CHARACTERS = 200_000;

interface Channel {
  hearers: Set<(text: string) => void>;
  told: number;
  now: number;
  timer: ReturnType<typeof setTimeout> | null;
  stop(): void;
}

export function tellOf(db: Db, news: News) {
  const channels = new Map<string, Channel>();

  const tell = async (id: string, channel: Channel): Promise<void> => {
    const { told, now } = channel;
    channel.told = now;
    const entries = (await entriesSince(db, id, told)).filter((one) => one.revision <= now);
    const whole = JSON.stringify({ revision: now, entries } satisfies Told);
    const text =
      whole.length <= MOST_CHARACTERS ? whole : JSON.stringify({ revision: now, entries: [] } satisfies Told);
    for (const hear of channel.hearers) hear(text);
  };

  const open = (id: string, revision: number): Channel => {
    const channel: Channel = {
      hearers: new Set(),
      told: revision,
      now: revision,
      timer: null,
      stop: news.subscribe(id, (now) => {
        channel.now = Math.max(channel.now, now);
        channel.timer ??= setTimeout(() => {
          channel.timer = null;
          tell(id, channel).catch((error: unknown) => log.debug({ error: String(error) }, 'telling of a livery'));
        }, GATHER_MS);
      }),
    };
    channels.set(id, channel);
    return channel;
  };

  return {
    /** @param revision that the hearer knows of @returns how to stop */
    hear(id: string, revision: number, hear: (text: string) => void): () => void {
      const channel = channels.get(id) ?? open(id, revision);
      channel.hearers.add(hear);
      return () => {
        channel.hearers.delete(hear);
        if (channel.hearers.size > 0) return;
        channel.stop();
        if (channel.timer) clearTimeout(channel.timer);
        channels.delete(id);
      };
    },
  };
}
