/**
 * The open livery: what the server has confirmed, the steps on top that are on their way, and what is shown. Edits are applied
 * at once, sent within a fraction of a second, and rebased when somebody else was faster.
 */
import { create, type StoreApi, type UseBoundStore } from 'zustand';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { applyEdit, expandAcross, wordsOf, type Edit } from '@wet-lacquer/core/livery/edit.ts';
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
import type { OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { ApiError, get, send } from '../lib/api.ts';
import { perFrame } from '../lib/perFrame.ts';
import {
  asideOf,
  asSent,
  forgetAside,
  forgetSent,
  keepAside,
  keepUnsent,
  leftAside,
  leftUnsent,
  type SetAside,
} from './outbox.ts';
import type { Here } from '@wet-lacquer/sync/people.ts';
import { person, thisWindow } from './person.ts';
import { pauses, sendLeft, sendSome } from './unsent.ts';

const SEND_AFTER_MS = 120;
/** The livery is drawn before earlier steps are asked for. */
const LOOK_BACK_AFTER_MS = 3000;
/** Confirmed steps that are held: when there are more, the older half is let go and asked for again when it is wanted. */
const MOST_STEPS = 2000;

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
  /** Names of those who made its steps, by id. */
  people: Readonly<Record<string, string>>;
  /** Who else, and who oneself, has it open. */
  here: readonly Here[];
  /** How often something was said of it since it was opened. */
  notesTold: number;
  /** It is not shared with whoever sits here any more. */
  gone: boolean;
  /** Steps that are in this window alone: the browser has no room to keep them. */
  unkept: number;
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
  /** @param label what the painter would call it; left out: as the edit reads */
  commit(edit: Edit, label?: string): void;
  /** Shows a change without making it, with the next frame of the screen; null shows the livery as it is. */
  show(edit: Edit | null): void;
  undo(): void;
  redo(): void;
  /** Asks for some of the steps before those that are known. @throws when they cannot be had */
  lookBack(): Promise<void>;
  /** Takes back this person's steps until the named one is the last. */
  backTo(step: string): void;
  /** Makes a step that was set aside again, perhaps with another target; or lets it go. @throws InputError when it still cannot be; it stays aside then */
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
  /** This person's own confirmed steps after a revision, however many others made meanwhile. */
  let own = open.log.filter((step) => step.person === me);
  let ownAfter = open.revision - open.log.length;
  let pending: AppliedEntry[] = [];
  const unkept = new Set<string>();
  /** Steps at the beginning of the log that nobody has any more. */
  let forgotten = 0;
  /** What is shown is what is confirmed with these steps on top. */
  let stacked = true;
  /** The server has said what became of the steps that were left here from before. */
  let heard = false;
  /** The latest revision that was told of. */
  let told = open.revision;
  let most: number | undefined;
  const pause = pauses();
  let sending: Promise<void> | null = null;
  let closed = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  /** What one's own steps are read from: those that are not shown cannot be taken back yet. */
  const mine = () => (stacked ? [...own, ...pending] : own);

  const stepsNow = () => {
    const { undo, redo } = stacksOf(mine(), me);
    return {
      steps: [...log, ...pending],
      earlier: revision - log.length - forgotten,
      unsent: pending.length,
      unkept: unkept.size,
      canUndo: undo.length > 0,
      canRedo: redo.length > 0,
    };
  };

  const use = create<DocumentState>(() => ({
    id: open.id,
    template,
    people: open.people,
    here: [],
    notesTold: 0,
    gone: false,
    livery: confirmed,
    preview: null,
    ...stepsNow(),
    saving: 'saved',
    trouble: null,
    setAside: [...open.aside.map(({ id, entry, why }) => asideOf(id, entry, why, 'server')), ...leftAside(open.id, me)],
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
    if (first === forgotten) return;
    looking ??= get<LoggedEntry[]>(`${url}/entries?upTo=${first}`)
      .then((entries) => {
        // Of a long history the oldest steps are let go.
        if (entries.length === 0) forgotten = first;
        log = [...entries, ...log];
        use.setState(stepsNow());
      })
      .finally(() => (looking = null));
    await looking;
  };

  let asking = false;
  /** One's own earlier steps come before they are needed, so that taking back does not wait for them. */
  const keepAtHand = async (): Promise<void> => {
    if (asking) return;
    asking = true;
    try {
      while (!closed && ownAfter > 0 && !saysEnough(mine(), me)) {
        const earlier = await get<LoggedEntry[]>(`${url}/entries?upTo=${ownAfter}&by=${encodeURIComponent(me)}`);
        own = [...earlier, ...own];
        ownAfter = earlier.length > 0 ? earlier[0].revision - 1 : 0;
        use.setState(stepsNow());
      }
    } catch {
      // Without the server there is what there is; the next step asks again.
    } finally {
      asking = false;
    }
  };

  const push = (entry: Entry) => {
    const { livery, applied } = applyEntry(use.getState().livery, entry);
    pending.push(applied);
    if (!keepUnsent(open.id, entry, Date.now() + pending.length / 1000)) unkept.add(entry.id);
    refresh(livery, { saving: use.getState().saving === 'offline' ? 'offline' : 'saving' });
    schedule(SEND_AFTER_MS);
  };

  /** Steps that will not be sent again, for what they are. */
  const setAside = (steps: readonly { entry: AppliedEntry; why: string }[]): void => {
    if (steps.length === 0) return;
    for (const { entry, why } of steps) {
      unkept.delete(entry.id);
      keepAside(open.id, entry, why);
    }
    const more = steps.map(({ entry, why }) => asideOf(entry.id, asSent(entry), why, 'here'));
    use.setState({ setAside: [...use.getState().setAside, ...more] });
  };

  /** Works the steps on their way out again on top of what is confirmed; what no longer applies is set aside. */
  const rebase = (more: Partial<DocumentState> = {}) => {
    let livery = confirmed;
    const kept: AppliedEntry[] = [];
    const aside: { entry: AppliedEntry; why: string }[] = [];
    stacked = true;
    for (const entry of pending) {
      try {
        const result = applyEntry(livery, entry);
        livery = result.livery;
        kept.push(result.applied);
      } catch (error) {
        if (!(error instanceof InputError)) throw error;
        if (heard) {
          aside.push({ entry, why: error.message });
          continue;
        }
        // It may have arrived long ago and be in what is confirmed already: the server knows.
        stacked = false;
        kept.push(entry);
      }
    }
    pending = kept;
    setAside(aside);
    refresh(livery, { ...more, ...whenSaved() });
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
   * Takes in entries that the server has and this page has not, as far as they follow on what it knows.
   * @returns whether they are steps of this page as it made them, so that what it shows has them already
   */
  const take = (entries: readonly LoggedEntry[]): boolean => {
    const news = entries.filter((entry, i) => entry.revision > revision && entry.revision <= entries[0].revision + i);
    if (news.length > 0 && news[0].revision !== revision + 1) return false;
    const asMade = stacked && news.length > 0 && news.every((entry, i) => isAsMade(entry, pending[i]));
    for (const entry of news) {
      confirmed = applyEntry(confirmed, entry).livery;
      revision = entry.revision;
    }
    log = [...log, ...news];
    if (log.length > MOST_STEPS) log = log.slice(-MOST_STEPS / 2);
    own = [...own, ...news.filter((entry) => entry.person === me)];
    told = Math.max(told, revision);
    drop(pending.filter(({ id }) => entries.some((entry) => entry.id === id)));
    return asMade;
  };

  const drop = (entries: readonly Entry[]) => {
    const known = new Set(entries.map((entry) => entry.id));
    pending = pending.filter((entry) => !known.has(entry.id));
    for (const id of known) {
      unkept.delete(id);
      forgetSent(open.id, id);
    }
  };

  const schedule = (ms: number) => {
    clearTimeout(timer);
    if (!closed) timer = setTimeout(() => void flush(), ms);
  };

  const flush = async (): Promise<void> => {
    if (sending || pending.length === 0 || closed) return;
    sending = post().finally(() => {
      sending = null;
      // What was told of meanwhile.
      if (told > revision) void pull();
    });
    await sending;
  };

  const post = async (): Promise<void> => {
    try {
      const sent = await sendSome(open.id, revision, pending, most);
      pause.over();
      heard = true;
      most = sent.state === 'fewer' ? sent.most : undefined;
      let asMade = false;
      if (sent.state === 'refused') {
        pending = pending.filter((entry) => entry.id !== sent.step.id);
        setAside([{ entry: sent.step, why: sent.why }]);
        told = Math.max(told, sent.revision ?? 0);
      } else if (sent.state === 'saved') {
        const { entries, more, revision: now } = sent.answer;
        asMade = take(entries);
        if (more) await catchUp(now);
        const left = pending.length;
        // What the server has had for long comes with no entry: it is in what is confirmed.
        drop(sent.batch);
        asMade &&= !more && pending.length === left;
      }
      if (asMade) agree({ saving: 'saving', trouble: null });
      else rebase({ saving: 'saving', trouble: null });
      if (pending.length > 0) schedule(0);
    } catch (error) {
      if (error instanceof ApiError && error.status === 409) {
        await openAnew().catch(() => {});
        return schedule(pause.next());
      }
      use.setState({ saving: 'offline', trouble: error instanceof Error ? error.message : String(error) });
      schedule(pause.next());
    }
  };

  /** The server has gone back to an earlier state: what is confirmed is what it says. */
  const openAnew = async () => {
    const now = await get<OpenLivery>(url);
    ({ livery: confirmed, revision, log } = now);
    told = revision;
    own = log.filter((step) => step.person === me);
    ownAfter = revision - log.length;
    rebase();
  };

  /** Asks for what came, until a revision is reached. */
  const catchUp = async (to: number): Promise<boolean> => {
    let asMade = true;
    while (revision < to) {
      const before = revision;
      const entries = await get<LoggedEntry[]>(`${url}/entries?after=${revision}`);
      asMade = take(entries) && asMade;
      if (revision === before) break;
    }
    return asMade;
  };

  let pulling = false;
  const pull = async () => {
    if (sending || pulling) return;
    pulling = true;
    try {
      const before = revision;
      const asMade = await catchUp(told);
      if (revision === before) return;
      if (asMade) agree();
      else rebase();
    } catch {
      // The next news, or the next step, asks again.
    } finally {
      pulling = false;
    }
  };

  for (const entry of leftUnsent(open.id, me)) {
    if (log.some((step) => step.id === entry.id)) forgetSent(open.id, entry.id);
    else pending.push({ ...entry, inverse: entry.edit });
  }
  if (pending.length > 0) {
    rebase({ saving: 'saving' });
    schedule(0);
  }

  /** Closing the window with steps that the server has not is asked about. */
  const warn = (event: BeforeUnloadEvent) => {
    if (pending.length > 0) event.preventDefault();
  };
  globalThis.addEventListener?.('beforeunload', warn);

  const later = setTimeout(() => void keepAtHand(), LOOK_BACK_AFTER_MS);

  const news = new EventSource(`/api${url}/news?window=${thisWindow}`);
  news.onmessage = ({ data }) => {
    const { revision: now, entries } = JSON.parse(data as string) as { revision: number; entries: LoggedEntry[] };
    told = Math.max(told, now);
    if (now <= revision || sending || pulling) return;
    const before = revision;
    const asMade = take(entries);
    if (revision === before) return void pull();
    if (asMade) agree();
    else rebase();
    if (told > revision) void pull();
  };

  news.addEventListener('here', ({ data }) => {
    const here = JSON.parse(data as string) as Here[];
    const people = { ...use.getState().people, ...Object.fromEntries(here.map(({ id, name }) => [id, name])) };
    use.setState({ here, people });
  });
  const tellNotes = () => use.setState(({ notesTold }) => ({ notesTold: notesTold + 1 }));
  news.addEventListener('notes', tellNotes);
  // What was not sent stays in this browser: it may be shared again.
  news.addEventListener('gone', () => {
    news.close();
    use.setState({ gone: true });
  });

  const undo = () => {
    const entry = undoEntry(mine(), { id: newEditId(), person: me });
    if (entry) push(entry);
  };

  return {
    use,
    commit(edit, label = wordsOf(use.getState().livery, edit)) {
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
      const entry = redoEntry(mine(), { id: newEditId(), person: me });
      if (entry) push(entry);
    },
    backTo(step) {
      for (;;) {
        const { undo: left } = stacksOf(mine(), me);
        const at = left.findIndex((one) => one.id === step);
        if (at < 0 || at === left.length - 1) return;
        undo();
      }
    },
    settle(step, retry) {
      const aside = use.getState().setAside.find(({ id }) => id === step);
      if (!aside) return;
      if (retry) push({ id: newEditId(), person: me, edit: retry, undoes: null, redoes: null, label: aside.label });
      use.setState({ setAside: use.getState().setAside.filter((one) => one !== aside) });
      if (aside.at === 'here') forgetAside(open.id, step);
      else void send('DELETE', `${url}/aside/${encodeURIComponent(step)}`).catch(() => {});
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
