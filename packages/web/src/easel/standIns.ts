/** What tests put in the place of the browser: a line to a server in memory, news by hand, storage that is gone afterwards. */
import { vi } from 'vitest';

export interface StandIns {
  /** What the open documents listen with. */
  listeners: Set<(event: { data: string }) => void>;
  /** What localStorage holds. */
  stored: Map<string, string>;
}

export function standIn(fetch: (url: string, init?: RequestInit) => Promise<Response>): StandIns {
  const listeners: StandIns['listeners'] = new Set();
  const stored: StandIns['stored'] = new Map();
  vi.stubGlobal('fetch', fetch);
  vi.stubGlobal('localStorage', {
    get length() {
      return stored.size;
    },
    key: (i: number) => [...stored.keys()][i] ?? null,
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => void stored.set(key, value),
    removeItem: (key: string) => void stored.delete(key),
  });
  vi.stubGlobal(
    'EventSource',
    class {
      private hear: ((event: { data: string }) => void) | null = null;
      set onmessage(hear: (event: { data: string }) => void) {
        this.hear = hear;
        listeners.add(hear);
      }
      addEventListener() {}
      close() {
        if (this.hear) listeners.delete(this.hear);
      }
    },
  );
  return { listeners, stored };
}
