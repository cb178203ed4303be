/** What the server's routes answer with: said once, for those who write the answers and those who read them. */
import type { FileGuess } from '@wet-lacquer/core/intake/fileRoles.ts';
import type { LayeredFacts, ModelFacts, OtherFacts, TextureFacts } from '@wet-lacquer/core/intake/understood.ts';
import type { KeptText } from '@wet-lacquer/core/delivery/newName.ts';
import type { SheetState } from '@wet-lacquer/core/delivery/checklist.ts';
import type { AgainstOriginal } from '@wet-lacquer/core/delivery/againstOriginal.ts';
import type { Preflight } from '@wet-lacquer/core/delivery/preflight.ts';
import type { LoggedEntry } from '@wet-lacquer/core/livery/history.ts';
import type { Choice } from '@wet-lacquer/core/livery/choices.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Livery, SpecPin } from '@wet-lacquer/core/livery/livery.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import type { CarriedNote } from '@wet-lacquer/core/transfer/plan.ts';
import type { TemplateDifference } from '@wet-lacquer/core/surface/templateDiff.ts';
import type { FieldKey } from '@wet-lacquer/core/livery/fields.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { Given } from './people.ts';
import type { Team } from '@wet-lacquer/core/team/team.ts';

/** Texts that a template keeps, and how often its other files name some words. */
export interface KeptTexts {
  texts: KeptText[];
  binary: { name: string; times: number }[];
}
/** Fields of a template's model that are being worked out, and the share of each that is done. */
export type BakingAnswer = { name: FieldKey; done: number }[];
interface CardHead {
  id: string;
  revision: number;
  updatedAt: string;
  name: string;
}
export interface LiveryCard extends CardHead {
  particulars: Record<string, string>;
  template: string;
  game: string;
  sheets: { key: string; name: string; state: SheetState }[];
  lastDelivery: string | null;
  /** What whoever asks may do with it. */
  role: Given | 'own';
}
/** A livery that cannot be read: why, and the last step up to which it can. */
export interface BrokenCard extends CardHead {
  broken: { why: string; lastGood: number | null };
}
/** Heavy tasks on the server's threads. */
export interface ThreadsHealth {
  busy: number;
  waiting: number;
}
/** Bytes; see the server's store/sweep.ts. */
export interface Stored {
  liveries: { id: string; steps: number; pictures: number; delivered: number }[];
  total: number;
  shared: number;
  free: number;
}
export interface BinnedLivery {
  id: string;
  name: string;
  at: string | null;
}

export interface OpenLivery {
  id: string;
  revision: number;
  livery: Livery;
  /** The end of the log, oldest first. */
  log: LoggedEntry[];
  /** Signatures of the files of the last delivery, by name. */
  delivered: [name: string, signature: string][];
  lastDelivery: { revision: number; at: string | null; slot: number | null } | null;
  /** The delivery spec that it is pinned to; null when it is gone. */
  spec: DeliverySpec | null;
  /** Steps that could not stay in its log. */
  aside: { id: string; entry: unknown; why: string }[];
  /** Names of those who made its steps, by id; of nobody while there is no sign-in. */
  people: Record<string, string>;
}

export interface SpecCard {
  key: string;
  version: number;
  game: string;
  gameName: string;
  from: 'shipped' | 'template' | 'made';
  files: number;
  sidecars: number;
  package: string | null;
  formats: string[];
  liveries: number;
}

export interface TemplateCard {
  hash: string;
  key: string;
  name: string;
  game: string;
  gameName: string;
  sheets: TemplateSheet[];
  parts: number;
  /** Alternatives of which one is shown. */
  choices: Choice[];
  /** Made here from somebody's files, not one that came with the product. */
  own: boolean;
}

export interface FontCard {
  key: string;
  name: string;
  kind: string;
  hash: string;
}

export interface DecalCard {
  id: string;
  name: string;
  tags: string[];
  blob: string;
  source: 'pixels' | 'svg';
  ratio: number;
  colours: string[];
  origin: string;
  licence: string;
  /** What whoever asks may do with it. */
  role: Given | 'own';
}

/** A sheet's follower beside its master. */
export interface BesideMasterAnswer {
  /** Of the pair as it came; null: paint goes on the follower as it is. */
  light: { kind: 'same' | 'light' | 'unlike'; error: number; explained: number; strength: number } | null;
  /** Data URL of three pictures in a row. */
  picture: string;
}

export interface PlannedCard {
  kind: 'sheet' | 'sidecar' | 'thumbnail' | 'companion';
  name: string;
  what: string;
  bytes: number;
  leftOut: 'bare' | 'kept' | 'original' | null;
  since: 'new' | 'changed' | 'unchanged';
  sheet?: string;
  map?: string;
  /** Key of the sheet's follower whose file it is. */
  follower?: string | null;
  facts?: {
    width: number;
    height: number;
    mips: number;
    header: string;
    flip: boolean;
    mipFilter: string;
    padding: number;
    pattern: string;
    alpha: string;
    /** It goes over the game's own file. */
    over: boolean;
  };
  text?: string;
  before?: string | null;
}

export interface PreflightAnswer {
  revision: number;
  spec: {
    key: string;
    version: number;
    game: string;
    gameName: string;
    lacks?: string;
    before?: string;
    after: string;
  };
  folder: string;
  /** The zip that everything goes into; null: loose files. */
  package: string | null;
  /** The number that the livery gets in its game, as written there. */
  slot: { called: string; is: string | null } | null;
  files: PlannedCard[];
  preflight: Preflight & {
    /** What became of the originals, by the file's name. */
    against: Record<string, AgainstOriginal>;
  };
}

/** What a spec would write, known before preflight is. */
export interface PlanAnswer {
  spec: { key: string; gameName: string };
  folder: string;
  package: string | null;
  files: Pick<PlannedCard, 'name' | 'what' | 'leftOut'>[];
}

export interface DeliveryCard {
  id: string;
  liveryId: string;
  revision: number;
  state: 'queued' | 'encoding' | 'publishing' | 'done' | 'failed' | 'cancelled' | 'taken-back';
  progress: { done: number; of: number; what: string };
  specKey: string;
  /** The same of all that was asked for in one go. */
  batch: string;
  game: string;
  folder: string;
  package: string | null;
  slot: number | null;
  files: { name: string; blob: string; bytes: number; what: string; signature: string }[];
  replaced: { name: string; blob: string }[];
  error: string | null;
  seconds: number | null;
  createdAt: string;
  finishedAt: string | null;
}

/** What a stand-in game's players see now. */
export interface GameShown {
  /** Changes with the picture. */
  picture: string;
  /** The key of the livery that is shown, and what the game calls it; null: none, the thing is as the game ships it. */
  livery: string | null;
  title: string | null;
  /** All that the game lists. */
  liveries: string[];
}

export interface GameFile {
  name: string;
  bytes: number;
  hash: string;
}

export interface IntakeFile {
  name: string;
  bytes: number;
  state: 'waiting' | 'reading' | 'read' | 'failed';
  /** 0..1, while it is read. */
  progress: number;
  understood: Omit<TextureFacts, 'look' | 'detail'> | LayeredFacts | ModelFacts | OtherFacts | null;
  /** Which way up it is stored, by the material whose islands say so. */
  ways: Record<string, 'upright' | 'upside-down'>;
  guess: FileGuess | null;
  /** Blobs of PNGs. */
  preview: string | null;
  difference: string | null;
  error: string | null;
}

export interface Intake {
  name: string;
  files: IntakeFile[];
}

/** A game of the test bay. */
export interface GameCard {
  game: string;
  gameName: string;
}

/** A newer version of a template, and what it changes. */
export interface FitAnswer {
  fit: Fit;
  parts: {
    /** Of the new model. */
    part: string;
    /** Shares of what it has on its sheet; see SheetFit. */
    missing: number;
    far: number;
    stretched: number;
    by: 'as it lies' | 'the whole' | 'the part';
    /** All of it comes from the one part that it is paired with. */
    whole: boolean;
  }[];
  /** How each of the new sheets fits, as PNG in an address. */
  pictures: { sheet: string; png: string }[];
}

/** What is told while a livery goes onto another model: how far it is, then what was made, or why nothing was. */
export type TransferNews = { done: number } | { made: { id: string; notes: CarriedNote[] } } | { why: string };

export interface NewerTemplate {
  hash: Sha256;
  spec: SpecPin;
  differences: TemplateDifference[];
}

/** An answer before it becomes JSON: times are dates still. */
export type Sent<T> = T extends string
  ? T | Date
  : T extends readonly (infer One)[]
    ? readonly Sent<One>[]
    : T extends object
      ? { [Key in keyof T]: Sent<T[Key]> }
      : T;

export interface TeamCard {
  id: string;
  name: string;
  updatedAt: string;
  /** Those that are at hand, in the team's order; `name` null: it cannot be read. */
  members: { id: string; name: string | null }[];
}
export interface OpenTeam {
  id: string;
  revision: number;
  team: Team;
  /** What would be taken back, and done again, next. */
  undo: string | null;
  redo: string | null;
}
/** A team after a step: what the step did to liveries, and which it passed by. */
export interface TeamChanged extends OpenTeam {
  changed: { livery: string; places: number }[];
  skipped: { livery: string; why: string }[];
}
