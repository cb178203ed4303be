/** What the server says of people and of what they share. */

/** Who asks. */
export interface Me {
  /** Whether people sign in at all. */
  signIn: boolean;
  painter: { id: string; name: string; keeper: boolean } | null;
  /** Id of the livery that a link lets look at. */
  looks: string | null;
  /** Nobody has an account yet. */
  empty: boolean;
  /** Whether browsers make passkeys for where this is served from. */
  keys: boolean;
}

export interface SessionCard {
  id: string;
  browser: string;
  since: string;
  usedAt: string;
  /** It is the one that asks. */
  here: boolean;
}
export interface PasskeyCard {
  id: string;
  name: string;
  since: string;
  usedAt: string | null;
}
export interface Account {
  /** Whether there is one. */
  password: boolean;
  /** Recovery codes that are left. */
  codes: number;
  passkeys: PasskeyCard[];
  sessions: SessionCard[];
}

export interface PainterCard {
  id: string;
  name: string;
  keeper: boolean;
  since: string;
  closed: boolean;
}
export interface InvitationCard {
  id: string;
  note: string;
  keeper: boolean;
  endsAt: string;
}

/** What can be shared, and what whoever it is shared with may do; each may what those before it may. */
export const SHARED_KINDS = ['livery', 'template', 'decal', 'spec', 'team'] as const;
export type SharedKind = (typeof SHARED_KINDS)[number];
export const GIVEN = ['look', 'copy', 'paint'] as const;
export type Given = (typeof GIVEN)[number];

export interface Shares {
  people: { id: string; name: string; role: Given | 'own'; byLink: boolean }[];
  links: { id: string; role: Given; endsAt: string | null; createdAt: string }[];
}

/** What a link is of. */
export interface OpenedLink {
  kind: SharedKind;
  object: string;
  role: Given;
}

/** A livery for whoever may look at it: no layers, nothing by hash. */
export interface Looked {
  id: string;
  revision: number;
  name: string;
  template: string;
  game: string;
  sheets: { key: string; name: string; width: number; height: number }[];
}

/** A place of a livery: texels of a sheet, and where on the model, metres, when it was pinned there. */
export interface NotePlace {
  sheet: string;
  x: number;
  y: number;
  point: [number, number, number] | null;
}
/** Something said of a place, by a person or by a window of nobody in particular. */
export interface NoteCard {
  id: string;
  number: number;
  place: NotePlace;
  person: string;
  text: string;
  at: string;
  answers: { id: string; person: string; text: string; at: string }[];
  done: { person: string; at: string } | null;
}
export interface Notes {
  notes: NoteCard[];
  /** Names of those who sign in, by person. */
  people: Record<string, string>;
}

/** Somebody who has a livery open, and what they have in hand. */
export interface Here {
  window: string;
  id: string;
  name: string;
  sheet: string | null;
  layer: string | null;
}
