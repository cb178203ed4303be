/** Figures of a server, by the text format that they are written in (Prometheus text-based format 0.0.4: comment lines, name, labels, value). */
import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import type { LiveryCard } from '@wet-lacquer/sync/answers.ts';
import { startServer } from '../testing/server.ts';

const LINE =
  /^[a-zA-Z_:][a-zA-Z0-9_:]*(\{([a-zA-Z_][a-zA-Z0-9_]*="([^"\\\n]|\\["\\n])*",?)*\})? (NaN|[+-]Inf|[-+]?[0-9.]+(e[+-]?\d+)?)( \d+)?$/;

test('they are said in the open format, count what is asked, and name no livery', async () => {
  const server = await startServer({ demo: true });
  try {
    const [{ id }] = await server.get<LiveryCard[]>('/liveries');
    for (let n = 0; n < 3; n++) await server.get(`/liveries/${id}`);
    const response = await fetch(`${server.url}/api/metrics`);
    expect(response.headers.get('content-type')).toContain('version=0.0.4');
    const text = await response.text();
    const lines = text.split('\n').filter((line) => line !== '' && !/^# (HELP|TYPE) /.test(line));
    expect(lines.filter((line) => !LINE.test(line))).toEqual([]);
    expect(text).toContain('wet_lacquer_http_seconds_count{method="GET",route="/api/liveries/:id",status="200"} 3');
    expect(text).not.toContain(id);
    expect(text).toMatch(/^wet_lacquer_queue_jobs\{of="deliveries"\} 0$/m);
    expect(text).toMatch(/^wet_lacquer_thread_tasks\{state="waiting"\} 0$/m);
  } finally {
    await server.stop();
  }
});

test('with sign-in on they are said to whoever has the word for it, and to nobody where there is none', async () => {
  const server = await startServer({ signIn: true, env: { WET_LACQUER_METRICS: 'tide-and-lamp' } });
  const other = await startServer({ databaseUrl: server.databaseUrl, data: server.data, signIn: true });
  try {
    const status = async (url: string, word?: string) =>
      (await fetch(`${url}/api/metrics`, { headers: word ? { Authorization: word } : {} })).status;
    expect(await status(server.url)).toBe(404);
    expect(await status(server.url, 'Bearer wrong')).toBe(404);
    expect(await status(server.url, 'Basic tide-and-lamp')).toBe(404);
    expect(await status(server.url, 'Bearer tide-and-lamp')).toBe(200);
    expect(await status(other.url, 'Bearer null')).toBe(404);
  } finally {
    await other.stop();
    await server.stop();
  }
});

test('heavy work gives way to whoever answers', async () => {
  const server = await startServer();
  try {
    // Something is drawn in a thread for it.
    await server.get('/health');
    const tasks = `/proc/${server.process.pid}/task`;
    // Field 19 of stat (proc(5)): the nice value.
    const niceOf = (thread: string) => {
      const stat = readFileSync(`${tasks}/${thread}/stat`, 'utf8');
      return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[16]);
    };
    expect(niceOf(String(server.process.pid))).toBe(0);
    expect(readdirSync(tasks).map(niceOf)).toContain(10);
  } finally {
    await server.stop();
  }
});
