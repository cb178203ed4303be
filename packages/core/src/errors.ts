/**
 * The user's side is at fault: the message is one clear sentence that says what is wrong and what would be right. Names out of files
 * are often quoted in it: characters that are no text, or turn others round, are shown as question marks.
 */
export class InputError extends Error {
  override name = 'InputError';

  constructor(message: string) {
    super(message.replace(/[\p{Cc}\p{Bidi_Control}\p{Zl}\p{Zp}]/gu, '?'));
  }
}
