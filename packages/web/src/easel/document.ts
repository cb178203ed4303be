/**
 * The open livery: what the server has confirmed, the steps on top that are on their way, and what is shown. Edits are applied
 * at once, sent within a fraction of a second, and rebased when somebody else was faster.
 */
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { expandAcross } from '@wet-lacquer/core/livery/across.ts';
import { applyEdit, type Edit } from '@wet-lacquer/core/livery/edit.ts';
import {
  applyEntry,
  redoEntry,
  saysEnough,
  stacksOf,
  undoEntry,
  type AppliedEntry,
  type Entry,
  type LoggedEntry,
} from '@wet-lacquer/core/livery/history.ts';
import { newEditId } from '@wet-lacquer/core/livery/ids.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { get } from '../lib/api.ts';
import { perFrame } from '../lib/perFrame.ts';
import type { OpenLivery } from '../lib/types.ts';
import { forgetSent, keepUnsent, leftUnsent } from './outbox.ts';
import { person } from './person.ts';
import { BATCH, postEntries, sendLeft } from './unsent.ts';

const SEND_AFTER_MS = 120;
const RETRY_MS = 1500;
/** The livery is drawn before earlier steps are asked for. */
const LOOK_BACK_AFTER_MS = 3000;

export interface SetAside {
  entry: Entry;
  why: string;
}

export interface DocumentState {
  id: string;
  template: Template;
  livery: Livery;
  /** What is shown while something is dragged; null otherwise. */
  preview: Livery | null;
  /** The last confirmed steps and those on their way, oldest first. */
  steps: readonly (AppliedEntry | LoggedEntry)[];
  /** How many confirmed steps there are before these. */
  earlier: number;
  /** Steps that the server does not have. */
  unsent: number;
  canUndo: boolean;
  canRedo: boolean;
  saving: 'saved' | 'saving' | 'offline';
  /** Why the last attempt to save failed. */
  trouble: string | null;
  setAside: readonly SetAside[];
  /** The revision that the server has confirmed. */
  revision: number;
  /** What was delivered last, and when. */
  lastDelivery: OpenLivery['lastDelivery'];
  /** Signatures of the files of the last delivery, by name. */
  delivered: ReadonlyMap<string, string>;
}

export interface EaselDocument {
  use: UseBoundStore<StoreApi<DocumentState>>;
  /** Makes a change, as one step. @throws InputError when it would not leave a livery; nothing is changed then */
  commit(edit: Edit, label: string): void;
  /** Shows a change without making it, with the next frame of the screen; null shows the livery as it is. */
  show(edit: Edit | null): void;
  undo(): void;
  redo(): void;
  /** Asks for some of the steps before those that are known. @throws when they cannot be had */
  lookBack(): Promise<void>;
  /** Takes back this person's steps until the named one is the last. */
  backTo(step: string): void;
  /** Makes a step that was set aside again, with another target if its layer is gone; or lets it go. */
  settle(step: string, retry: Edit | null): void;
  /** Sends what is unsent and waits until the server has it. @returns how many steps it has not, when it cannot be had just now */
  saved(): Promise<number>;
  close(): void;
}

export function openDocument(open: OpenLivery, template: Template): EaselDocument {
  const me = person();
  const url = `/liveries/${open.id}`;
  let confirmed = open.livery;
  let revision = open.revision;
  let log: LoggedEntry[] = open.log;
  let pending: AppliedEntry[] = [];
  /** What is shown is what is confirmed with these steps on top. */
  let stacked = true;
  let sending: Promise<void> | null = null;
  let closed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const stepsNow = () => {
    const steps = [...log, ...pending];
    const { undo, redo } = stacksOf(steps, me);
    return {
      steps,
      earlier: revision - log.length,
      unsent: pending.length,
      canUndo: undo.length > 0,
      canRedo: redo.length > 0,
    };
  };

  const use = create<DocumentState>(() => ({
    id: open.id,
    template,
    livery: confirmed,
    preview: null,
    ...stepsNow(),
    saving: 'saved',
    trouble: null,
    setAside: [],
    revision,
    lastDelivery: open.lastDelivery,
    delivered: new Map(open.delivered),
  }));

  const preview = perFrame((edit: Edit) => {
    const { livery } = use.getState();
    use.setState({ preview: applyEdit(livery, expandAcross(livery, edit)).livery });
  });

  const refresh = (livery: Livery, more: Partial<DocumentState> = {}) => {
    preview.drop();
    use.setState({ livery, preview: null, revision, ...stepsNow(), ...more });
    void keepAtHand();
  };

  let looking: Promise<void> | null = null;
  const lookBack = async (): Promise<void> => {
    const first = revision - log.length;
    if (first === 0) return;
    looking ??= get<LoggedEntry[]>(`${url}/entries?upTo=${first}`)
      .then((entries) => {
        log = [...entries, ...log];
        use.setState(stepsNow());
      })
      .finally(() => (looking = null));
    await looking;
  };

  /** Earlier steps come before they are needed, so that taking back does not wait for them. */
  const keepAtHand = async (): Promise<void> => {
    while (!closed && revision > log.length && !saysEnough([...log, ...pending], me)) {
      try {
        await lookBack();
      } catch {
        // Without the server there is what there is; the next step asks again.
        return;
      }
    }
  };

  const push = (entry: Entry) => {
    const { livery, applied } = applyEntry(use.getState().livery, entry);
    pending.push(applied);
    keepUnsent(open.id, entry, Date.now() + pending.length / 1000);
    refresh(livery, { saving: use.getState().saving === 'offline' ? 'offline' : 'saving' });
    schedule(SEND_AFTER_MS);
  };

  /** Works the steps on their way out again on top of what is confirmed; what no longer applies is set aside. */
  const rebase = (more: Partial<DocumentState> = {}) => {
    let livery = confirmed;
    const kept: AppliedEntry[] = [];
    const aside = [...use.getState().setAside];
    for (const entry of pending) {
      try {
        const result = applyEntry(livery, entry);
        livery = result.livery;
        kept.push(result.applied);
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        aside.push({ entry, why: error.message });
        forgetSent(open.id, entry.id);
      }
    }
    pending = kept;
    stacked = true;
    refresh(livery, { setAside: aside, ...more, ...whenSaved() });
  };

  /** What was confirmed is what is shown already: the same objects, and nothing is drawn anew. */
  const agree = (more: Partial<DocumentState> = {}) => {
    if (pending.length === 0) confirmed = use.getState().livery;
    use.setState({ revision, ...stepsNow(), ...more, ...whenSaved() });
    void keepAtHand();
  };

  /** With nothing left on its way all is saved, however that came about: its own answer may have been lost. */
  const whenSaved = (): Partial<DocumentState> => (pending.length === 0 ? { saving: 'saved', trouble: null } : {});

  /**
   * Takes in entries that the server has and this page has not.
   * @returns whether they are steps of this page as it made them, so that what it shows has them already
   */
  const take = (entries: readonly LoggedEntry[]): boolean => {
    const news = entries.filter((entry) => entry.revision > revision);
    const own = stacked && news.length > 0 && news.every((entry, i) => isAsMade(entry, pending[i]));
    for (const entry of news) {
      confirmed = applyEntry(confirmed, entry).livery;
      log = [...log, entry];
      revision = entry.revision;
    }
    drop(pending.filter(({ id }) => entries.some((entry) => entry.id === id)));
    return own;
  };

  const drop = (entries: readonly Entry[]) => {
    const known = new Set(entries.map((entry) => entry.id));
    pending = pending.filter((entry) => !known.has(entry.id));
    for (const id of known) forgetSent(open.id, id);
  };

  const schedule = (ms: number) => {
    clearTimeout(timer);
    if (!closed) timer = setTimeout(() => void flush(), ms);
  };

  const flush = async (): Promise<void> => {
    if (sending || pending.length === 0 || closed) return;
    sending = post().finally(() => (sending = null));
    await sending;
  };

  const post = async (): Promise<void> => {
    const batch = pending.slice(0, BATCH);
    try {
      const answer = await postEntries(open.id, revision, batch);
      let own = false;
      if (answer.state === 'refused') {
        const refused = pending.find((entry) => entry.id === answer.entry);
        pending = pending.filter((entry) => entry.id !== answer.entry);
        forgetSent(open.id, answer.entry);
        if (refused) use.setState({ setAside: [...use.getState().setAside, { entry: refused, why: answer.why }] });
      } else {
        own = take(answer.entries);
        const left = pending.length;
        // What the server has had for long comes with no entry: it is in what is confirmed.
        if (answer.state === 'saved') drop(batch);
        own &&= pending.length === left;
      }
      if (own) agree({ saving: 'saving', trouble: null });
      else rebase({ saving: 'saving', trouble: null });
      if (pending.length > 0) schedule(0);
    } catch (error) {
      use.setState({ saving: 'offline', trouble: error instanceof Error ? error.message : String(error) });
      schedule(RETRY_MS);
    }
  };

  const pull = async () => {
    if (sending) return;
    const entries = await get<LoggedEntry[]>(`${url}/entries?after=${revision}`).catch(() => []);
    if (entries.length === 0) return;
    if (take(entries)) agree();
    else rebase();
  };

  for (const entry of leftUnsent(open.id)) {
    if (log.some((step) => step.id === entry.id)) forgetSent(open.id, entry.id);
    else pending.push({ ...entry, inverse: entry.edit });
  }
  if (pending.length > 0) {
    // Whether they arrived, the end of a long log does not say: the server does, before they are shown.
    if (revision === log.length) rebase({ saving: 'saving' });
    else {
      stacked = false;
      use.setState({ saving: 'saving' });
    }
    schedule(0);
  }

  /** Closing the window with steps that the server has not is asked about. */
  const warn = (event: BeforeUnloadEvent) => {
    if (pending.length > 0) event.preventDefault();
  };
  globalThis.addEventListener?.('beforeunload', warn);

  const later = setTimeout(() => void keepAtHand(), LOOK_BACK_AFTER_MS);

  const news = new EventSource(`/api${url}/news`);
  news.onmessage = ({ data }) => {
    if (Number(data) > revision) void pull();
  };

  const undo = () => {
    const entry = undoEntry([...log, ...pending], { id: newEditId(), person: me });
    if (entry) push(entry);
  };

  return {
    use,
    commit(edit, label) {
      const whole = expandAcross(use.getState().livery, edit);
      push({ id: newEditId(), person: me, edit: whole, undoes: null, redoes: null, label });
    },
    show(edit) {
      if (edit) return preview.next(edit);
      preview.drop();
      use.setState({ preview: null });
    },
    undo,
    lookBack,
    redo() {
      const entry = redoEntry([...log, ...pending], { id: newEditId(), person: me });
      if (entry) push(entry);
    },
    backTo(step) {
      for (;;) {
        const { undo: left } = stacksOf([...log, ...pending], me);
        const at = left.findIndex((own) => own.id === step);
        if (at < 0 || at === left.length - 1) return;
        undo();
      }
    },
    settle(step, retry) {
      const aside = use.getState().setAside.find(({ entry }) => entry.id === step);
      use.setState({ setAside: use.getState().setAside.filter(({ entry }) => entry.id !== step) });
      if (aside && retry)
        push({ id: newEditId(), person: me, edit: retry, undoes: null, redoes: null, label: aside.entry.label });
    },
    async saved() {
      while (pending.length > 0) {
        clearTimeout(timer);
        await (sending ?? flush());
        if (use.getState().trouble !== null) break;
      }
      return pending.length;
    },
    close() {
      closed = true;
      globalThis.removeEventListener?.('beforeunload', warn);
      // What is still on its way arrives without this page.
      if (pending.length > 0) void sendLeft(open.id).catch(() => {});
      clearTimeout(timer);
      clearTimeout(later);
      preview.drop();
      news.close();
    },
  };
}

/** A confirmed step is the one that was made here, and says it in the very same words: the server puts what is new into its own order. */
const isAsMade = (confirmed: Entry, made: Entry | undefined): boolean =>
  confirmed.id === made?.id && JSON.stringify(confirmed.edit) === JSON.stringify(made.edit);
