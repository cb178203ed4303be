/** Somebody at a browser, for tests: keeps cookies as one does, and says where its pages are from. */
import type { TestServer } from './server.ts';

export interface Answer<T> {
  status: number;
  body: T;
  headers: Headers;
}

export class Client {
  readonly cookies = new Map<string, string>();

  constructor(
    readonly server: Pick<TestServer, 'url'>,
    /** Sent with everything that is asked. */
    private readonly headers: Record<string, string> = {},
  ) {}

  async ask<T = never>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await this.fetch(path, {
      method,
      body: body === undefined ? undefined : body instanceof Uint8Array ? Buffer.from(body) : JSON.stringify(body),
      headers: {
        ...(body !== undefined && {
          'Content-Type': body instanceof Uint8Array ? 'application/octet-stream' : 'application/json',
        }),
        ...headers,
      },
    });
    const text = await response.text();
    let read: unknown = text;
    try {
      read = JSON.parse(text);
    } catch {
      // Not everything is JSON.
    }
    return { status: response.status, body: read as T, headers: response.headers };
  }

  async fetch(path: string, init: RequestInit = {}): Promise<Response> {
    const response = await fetch(`${this.server.url}/api${path}`, {
      ...init,
      redirect: 'manual',
      headers: {
        Origin: this.server.url,
        ...(this.cookies.size > 0 && {
          Cookie: [...this.cookies].map(([name, value]) => `${name}=${value}`).join('; '),
        }),
        ...this.headers,
        ...(init.headers as Record<string, string>),
      },
    });
    for (const line of response.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(line)!;
      if (value === '' || /Expires=Thu, 01 Jan 1970/.test(line)) this.cookies.delete(name);
      else this.cookies.set(name, value);
    }
    return response;
  }

  /** Makes an account by an invitation, and is signed in. @returns its id */
  async join(token: string, name: string, password = `${name} paints by lamp light`): Promise<string> {
    const { status, body } = await this.ask<{ painter: { id: string } }>('POST', '/invitations/take', {
      token,
      name,
      password,
    });
    if (status !== 200) throw new Error(JSON.stringify(body));
    return body.painter.id;
  }
}

/** The token of the link that a server without accounts says when it starts. */
export async function firstToken(server: TestServer): Promise<string> {
  for (let k = 0; k < 100; k++) {
    const token = /\/invited#(\S+)/.exec(server.said())?.[1];
    if (token) return token;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('The server says no link.');
}

/** The keeper of a server where nobody has an account, and as many others as there are names. */
export async function peopleOf<N extends string>(
  server: TestServer,
  ...names: N[]
): Promise<Record<N | 'keeper', Client & { id: string }>> {
  const keeper = new Client(server);
  const all: Record<string, Client & { id: string }> = {
    keeper: Object.assign(keeper, { id: await keeper.join(await firstToken(server), 'Keeper') }),
  };
  for (const name of names) {
    const { body } = await keeper.ask<{ token: string }>('POST', '/invitations', { note: name });
    const client = new Client(server);
    all[name] = Object.assign(client, { id: await client.join(body.token, name) });
  }
  return all as never;
}
