/** What tests put in the place of the server: its own rule of how steps join a log, in memory, with a line that can fail. */
import { applyEntry, type Entry, type LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { smallTemplate } from '@wet-lacquer/core/testing/scenes.ts';
import { join, Refused, type PostAnswer } from '@wet-lacquer/sync/join.ts';
import type { Known } from '@wet-lacquer/sync/judge.ts';
import type { OpenLivery } from '@wet-lacquer/sync/answers.ts';

const AT = '2026-11-24T00:00:00.000Z';
/** Nothing of these liveries is kept elsewhere but their template. */
const KNOWN: Known = {
  blob: () => undefined,
  template: () => smallTemplate(),
  spec: () => true,
  font: () => undefined,
};

export class LogStandIn {
  log: LoggedEntry[] = [];
  posts = 0;
  lookedBack = 0;
  /** Steps that come in one answer about earlier ones, and about later ones. */
  page = 30;
  ahead = 500;

  constructor(public livery: Livery) {}

  /** Somebody else's step. */
  take(entry: Entry): void {
    const { livery, applied } = applyEntry(this.livery, entry);
    this.livery = livery;
    this.log.push({ ...applied, revision: this.log.length + 1, at: AT });
  }

  open(more: Partial<OpenLivery> = {}): OpenLivery {
    return {
      ...{
        id: 'one',
        revision: this.log.length,
        livery: this.livery,
        log: structuredClone(this.log.slice(-this.page)),
      },
      ...{ delivered: [], lastDelivery: null, spec: null, aside: [], people: {}, ...more },
    };
  }

  /** What the news say. */
  news(from = this.log.length): { data: string } {
    return { data: JSON.stringify({ revision: this.log.length, entries: this.log.slice(from) }) };
  }

  answer(url: string, init?: RequestInit): { status: number; body: unknown } {
    if (init?.method === 'DELETE') return { status: 200, body: null };
    if (!init?.method) return { status: 200, body: this.asked(new URL(url, 'http://x')) };
    this.posts++;
    const { base, entries } = JSON.parse(String(init.body)) as { base: number; entries: Entry[] };
    const answer = this.post(base, entries);
    return { status: answer.state === 'saved' ? 200 : 422, body: answer };
  }

  private asked({ pathname, searchParams }: URL): unknown {
    if (!pathname.endsWith('/entries')) return this.open();
    const [after, upTo, by] = ['after', 'upTo', 'by'].map((key) => searchParams.get(key));
    if (upTo === null) return this.log.slice(Number(after), Number(after) + this.ahead);
    this.lookedBack++;
    const before = this.log.slice(0, Number(upTo)).filter(({ person }) => by === null || person === by);
    return before.slice(-this.page);
  }

  private post(base: number, entries: readonly Entry[]): PostAnswer {
    const fresh = entries.filter((entry) => !this.log.some((known) => known.id === entry.id));
    try {
      const { head, added } = join({ revision: this.log.length, livery: this.livery }, fresh, KNOWN, AT);
      this.livery = head.livery;
      this.log = [...this.log, ...added];
    } catch (error) {
      if (error instanceof Refused)
        return { state: 'refused', entry: error.entry, why: error.message, revision: this.log.length };
      throw error;
    }
    const since = this.log.slice(base, base + this.ahead);
    return { state: 'saved', revision: this.log.length, entries: since, more: base + since.length < this.log.length };
  }
}
