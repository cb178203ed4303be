import { asked } from './slow.ts';

/** The server's answers: its own sentence when something is wrong, and "no answer" told apart from "refused". */
export class ApiError extends Error {
  constructor(
    message: string,
    /** HTTP status; 0 when there was no answer. */
    readonly status: number,
    readonly body: unknown = null,
  ) {
    super(message);
  }
}

let signedOut = () => {};
/** Calls when the server says that nobody is signed in any more. */
export const onSignedOut = (hear: () => void): void => void (signedOut = hear);

async function request(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  const answered = asked();
  try {
    response = await fetch(`/api${path}`, init);
  } catch {
    throw new ApiError('The server does not answer. Your work stays in this window; it is sent as soon as it does.', 0);
  } finally {
    answered();
  }
  if (response.ok) return response;
  if (response.status === 401) signedOut();
  const body = (await response.json().catch(() => null)) as { error?: string } | null;
  throw new ApiError(body?.error ?? `The server answered ${response.status}.`, response.status, body);
}

/** GET as JSON; also SWR's fetcher. */
export const get = async <T>(path: string, init?: RequestInit): Promise<T> =>
  (await request(path, init)).json() as Promise<T>;

/** Asks for one thing after another: what is not wanted any more is let go of, so that it keeps nothing else waiting. */
export function onlyLatest(): <T>(path: string) => Promise<T> {
  let last: AbortController | null = null;
  return (path) => {
    last?.abort();
    last = new AbortController();
    return get(path, { signal: last.signal });
  };
}

export const getBytes = async (path: string, signal?: AbortSignal): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await (await request(path, { signal })).arrayBuffer());

const withJson = (method: string, path: string, body?: unknown, signal?: AbortSignal) =>
  request(path, {
    method,
    signal,
    headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });

export async function send<T>(
  method: 'POST' | 'PUT' | 'DELETE',
  path: string,
  body?: unknown,
  signal?: AbortSignal,
): Promise<T> {
  const response = await withJson(method, path, body, signal);
  return (response.status === 204 ? null : await response.json()) as T;
}

/** POSTs JSON and takes bytes. */
export const takeBytes = async (path: string, body: unknown, signal?: AbortSignal): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await (await withJson('POST', path, body, signal)).arrayBuffer());

/** POSTs a file as it is. */
export async function sendFile<T>(path: string, file: Blob): Promise<T> {
  return (
    await request(path, { method: 'POST', headers: { 'Content-Type': 'application/octet-stream' }, body: file })
  ).json() as Promise<T>;
}

/** POSTs, and hears each line of the answer as it comes: JSON, one value a line. */
export async function* sendAndHear<T>(path: string, body: unknown, signal: AbortSignal): AsyncGenerator<T> {
  const response = await request(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let text = '';
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    text += value;
    const lines = text.split('\n');
    text = lines.pop()!;
    for (const line of lines) yield JSON.parse(line) as T;
  }
}

export const sentenceOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
