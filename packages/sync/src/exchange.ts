/** What pages know of the exchange. */
import type { Skin } from '@wet-lacquer/core/exchange/skin.ts';

/** What was found when a skin was looked at as its game would, and held against its subject. */
export interface SkinFinding {
  /** "stop": it is not handed on, and not put in. */
  level: 'stop' | 'advice';
  says: string;
}

/** What became of a skin in the games of this host. */
export interface PutInCard {
  version: number;
  key: string;
  number: number | null;
  /** Paths in the game's folder. */
  files: string[];
  notes: string[];
  createdAt: string;
}

/** What a card says of a skin's newest version. */
export interface SkinFacts {
  name: string;
  by: string;
  gameName: string;
  colours: string[];
  adapt: boolean;
  /** How many pictures it has. */
  pictures: number;
}

export interface ListingCard extends SkinFacts {
  id: string;
  version: number;
  crew: string;
  game: string;
  subject: string;
  /** Where it came from; null: it was published here. */
  from: string | null;
  /** The version that is in the game here; null: none is. */
  putIn: number | null;
  updatedAt: string;
}

/** Cards, and what can be looked for: all that there is, whatever is looked for now. */
export interface ListingPage {
  cards: ListingCard[];
  /** How many there are beside those that were asked for. */
  more: number;
  games: { key: string; name: string }[];
  subjects: string[];
  crews: string[];
}

export interface ListingAnswer extends ListingCard {
  about: string;
  terms: string;
  credits: Skin['credits'];
  after: Skin['after'];
  number: number | null;
  called: string | null;
  files: { name: string; what: string; bytes: number }[];
  /** "game": it has a stand-in here. */
  game: string;
  template: string;
  findings: SkinFinding[];
  versions: { version: number; news: string; createdAt: string }[];
  shows: string[];
  takenDown: string | null;
  /** Whether whoever asks may take it down. */
  own: boolean;
  putInAs: PutInCard | null;
  friends: { who: string; version: number }[];
  /** What was said against it, for whoever may take it down. */
  reports: { why: string; by: string | null; createdAt: string }[];
}

export interface Published {
  id: string;
  version: number;
  findings: SkinFinding[];
}

export interface SubscriptionCard {
  id: string;
  url: string;
  skins: number;
  lookedAt: string | null;
  problem: string | null;
}

/** Somebody with a folder of their own, as the test bay sees through it. */
export interface FriendFolder {
  who: string;
  /** SHA-256 by path. */
  files: Record<string, string>;
}

export interface Seen {
  /** Paths in the game's folder that skins were put at, by whoever did; the rest came with the game. */
  ofSkins: string[];
  /** Those of them that everybody has one of their own of. */
  continued: string[];
  friends: FriendFolder[];
}
