import { InputError } from '@wet-lacquer/core/errors.ts';

/** What was asked for is not there. */
export class NotFound extends InputError {
  override name = 'NotFound';
}
