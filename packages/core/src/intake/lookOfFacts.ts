import type { TextureLook } from './textureLook.ts';
import type { TextureFacts } from './understood.ts';

/** The figures of a texture as guesses take them; in facts, which are kept as JSON, the small picture is a plain list. */
export const lookOfFacts = ({ look }: TextureFacts): TextureLook => ({ ...look, small: Float32Array.from(look.small) });
