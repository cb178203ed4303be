import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { get } from '../../lib/api.ts';
import type { EaselDocument } from '../document.ts';
import { announce } from '../session.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Makes the livery what it was at a revision, as one step. @throws when that state cannot be had or gone back to */
export async function returnTo(doc: EaselDocument, revision: number, name: string): Promise<void> {
  const { livery } = await get<{ livery: Livery }>(`/liveries/${doc.use.getState().id}/at/${revision}`);
  doc.commit({ do: 'become', livery }, cutTo(`Return to ${name}`, 120));
  announce(`The livery is as after ${name} again; undo takes that back`);
}
