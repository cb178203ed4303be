import { InputError } from '@wet-lacquer/core/errors.ts';

/** What was asked for rests on something that has changed meanwhile. */
export class Clash extends InputError {
  override name = 'Clash';
}

/** What was asked for is not there. */
export class NotFound extends InputError {
  override name = 'NotFound';
}
