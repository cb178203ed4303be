/** The user's side is at fault: the message is one clear sentence that says what is wrong and what would be right. */
export class InputError extends Error {
  override name = 'InputError';
}
