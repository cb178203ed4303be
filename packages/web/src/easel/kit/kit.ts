/** A kit that somebody brought in, while they say where its marks go. */
import { create } from 'zustand';
import type { Parcel } from '@wet-lacquer/core/livery/parcel.ts';
import type { EaselDocument } from '../document.ts';
import { choose } from '../session.ts';

interface Brought {
  /** The livery that it was brought to. */
  doc: EaselDocument;
  kit: Parcel;
  /** The name of its file. */
  of: string;
}

export const useKit = create<{ brought: Brought | null }>(() => ({ brought: null }));

export function bringKit(doc: EaselDocument, kit: Parcel, of: string): void {
  choose(null);
  useKit.setState({ brought: { doc, kit, of } });
}

export const leaveKit = (): void => useKit.setState({ brought: null });
