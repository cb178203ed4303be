/** A text that begins with a capital letter. */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
