/** The forty layers on the built server, opened in Chromium, with ears for when the art is painted. */
import { chromium, type Browser, type Page } from 'playwright-core';
import config from '../../playwright.config.ts';
import { writeTemplatePackage } from '../../packages/core/src/files/templatePackage.ts';
import { newEditId } from '../../packages/core/src/livery/ids.ts';
import type { Template } from '../../packages/core/src/livery/template.ts';
import type { Layer } from '../../packages/core/src/livery/layer.ts';
import { startServer, type TestServer } from '../../packages/server/src/testing/server.ts';

/** What the page tells of itself. Times are those of `performance.now()` in it. */
interface Ears {
  /** Each time that something was put on the art's canvas. */
  painted: number[];
  /** Of each part of a stroke: the event that brought it, when the renderer was asked and answered, and when the canvas was painted. */
  strokes: { event: number; asked: number; answered: number; painted: number }[];
  /** When a texture of the model was sent to the graphics card. */
  textures: number[];
}
declare global {
  interface Window {
    ears: Ears;
  }
}

function listen(): void {
  const ears: Ears = { painted: [], strokes: [], textures: [] };
  const draw = CanvasRenderingContext2D.prototype.drawImage as (...args: unknown[]) => void;
  CanvasRenderingContext2D.prototype.drawImage = function (this: CanvasRenderingContext2D, ...args: unknown[]) {
    draw.apply(this, args);
    if ((this.canvas as HTMLCanvasElement).dataset?.testid === 'art') ears.painted.push(performance.now());
  } as typeof CanvasRenderingContext2D.prototype.drawImage;
  /** The first move of the pointer since the renderer was asked last. */
  let moved: number | null = null;
  addEventListener(
    'pointermove',
    (event) => {
      if ((event as PointerEvent).buttons !== 0) moved ??= event.timeStamp;
    },
    true,
  );
  const asked = new Map<number, { event: number; asked: number }>();
  const heard = new WeakSet<Worker>();
  const post = Worker.prototype.postMessage as (...args: unknown[]) => void;
  const hear = (message: MessageEvent<{ n: number; answer: unknown }>) => {
    const { n, answer } = message.data;
    const of = asked.get(n);
    asked.delete(n);
    // An answer without a patch has nothing to paint: the pointer has not gone far enough for a dab.
    if (!of || !Array.isArray(answer) || answer.length === 0) return;
    // The page's own listener came first: what it painted for the answer is painted by now.
    const painted = ears.painted.at(-1)!;
    if (painted >= message.timeStamp) ears.strokes.push({ ...of, answered: message.timeStamp, painted });
  };
  Worker.prototype.postMessage = function (this: Worker, message: { name?: string; n: number }, ...rest: unknown[]) {
    if (message.name === 'paintMove') {
      if (moved !== null) asked.set(message.n, { event: moved, asked: performance.now() });
      moved = null;
      if (!heard.has(this)) this.addEventListener('message', hear);
      heard.add(this);
    }
    post.call(this, message, ...rest);
  } as typeof Worker.prototype.postMessage;
  for (const name of ['texImage2D', 'texSubImage2D'] as const) {
    const send = WebGL2RenderingContext.prototype[name] as (...args: unknown[]) => void;
    const heard = function (this: WebGL2RenderingContext, ...args: unknown[]) {
      send.apply(this, args);
      ears.textures.push(performance.now());
    };
    Object.assign(WebGL2RenderingContext.prototype, { [name]: heard });
  }
  Object.assign(window, { ears });
}

export interface Bench {
  server: TestServer;
  browser: Browser;
  page: Page;
  /** The livery's id, and its sheet. */
  id: string;
  sheet: string;
  /** Opens the livery anew, with a layer chosen, and waits until all is at rest. */
  open(layer: string): Promise<void>;
  ears<K extends keyof Ears>(what: K): Promise<Ears[K]>;
  close(): Promise<void>;
}

/** @param model the turntable is open; without it the model rests */
export async function openBench(template: Template, layers: readonly Layer[], model: boolean): Promise<Bench> {
  const server = await startServer({ demo: false });
  const packed = await writeTemplatePackage(template, new Map(), async () => new Uint8Array());
  const sent = await fetch(`${server.url}/api/templates/packages`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: new Blob([packed as Uint8Array<ArrayBuffer>]),
  });
  const { hash } = (await sent.json()) as { hash: string };
  const { body } = await server.post<{ id: string }>('/liveries', { template: hash, name: 'Bench' });
  const sheet = template.sheets[0].key;
  await server.post(`/liveries/${body.id}/entries`, {
    base: 0,
    entries: layers.map((layer, index) => ({
      id: newEditId(),
      person: 'bench',
      edit: { do: 'add-layer', sheet, map: 'colour', layer, index },
      undoes: null,
      redoes: null,
      label: 'add',
    })),
  });
  const { launchOptions } = config.projects!.find(({ name }) => name === (model ? 'model' : 'paper'))!.use!;
  const browser = await chromium.launch(launchOptions);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // The runner's compiler wraps named functions in a helper that the page does not have.
  await page.addInitScript('globalThis.__name = (f) => f');
  if (!model) await page.addInitScript(() => localStorage.setItem('wet-lacquer/model-rests', 'yes'));
  await page.addInitScript(listen);
  const bench: Bench = {
    server,
    browser,
    page,
    id: body.id,
    sheet,
    async open(layer) {
      await page.goto(`${server.url}/liveries/${body.id}?sheet=${sheet}&layer=${layer}`);
      await page.getByTestId('art').waitFor();
      await atRest({ page });
    },
    ears: async <K extends keyof Ears>(what: K) => (await page.evaluate((key) => window.ears[key], what)) as Ears[K],
    async close() {
      await browser.close();
      await server.stop();
    },
  };
  return bench;
}

/** Waits until nothing has been painted for two seconds. */
export async function atRest({ page }: { page: Page }): Promise<void> {
  const isAtRest = () => {
    const { painted, textures } = window.ears;
    return painted.length > 0 && performance.now() - Math.max(painted.at(-1)!, textures.at(-1) ?? 0) > 2000;
  };
  await page.waitForFunction(isAtRest, null, { polling: 200, timeout: 60_000 });
}
