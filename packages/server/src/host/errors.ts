import { InputError } from '@wet-lacquer/core/errors.ts';

/** What was asked for rests on something that has changed meanwhile. */
export class Clash extends InputError {
  override name = 'Clash';
}

/** What was asked for is not there. */
export class NotFound extends InputError {
  override name = 'NotFound';
}

/** Nobody has signed in, and somebody has to. */
export class NotSignedIn extends InputError {
  override name = 'NotSignedIn';
}

/** Whoever asks may see it, and no more. */
export class Forbidden extends InputError {
  override name = 'Forbidden';
}

/** Something was tried too often. */
export class TooOften extends InputError {
  override name = 'TooOften';

  /** @param seconds after which it can be tried again */
  constructor(readonly seconds: number) {
    super(`This was tried too often; try again in ${Math.ceil(seconds / 60)} min.`);
  }
}
