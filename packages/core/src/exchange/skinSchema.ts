import { z } from 'zod';
import { Skin } from './skin.ts';

/** The document of a skin as JSON Schema (draft 2020-12), for whoever reads or writes one elsewhere. */
export const schemaText = (): string =>
  `${JSON.stringify({ title: 'A skin as it is handed on', ...z.toJSONSchema(Skin, { io: 'input', unrepresentable: 'any' }) }, null, 2)}\n`;
