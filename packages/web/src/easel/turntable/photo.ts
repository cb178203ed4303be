/** A photo of the thing that lies over the view of the model: which is looked through, and which is being matched. */
import { create } from 'zustand';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { Reference } from '@wet-lacquer/core/livery/livery.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';
import { FEWEST_PAIRS, matchCamera, type MatchedCamera } from '@wet-lacquer/core/surface/matchCamera.ts';
import { sendFile } from '../../lib/api.ts';
import type { EaselDocument } from '../document.ts';
import { takeInHand } from '../hand.ts';
import { announce, useSession } from '../session.ts';

interface PhotoView {
  /** Id of the photo that the model is looked at through. */
  through: string | null;
  /** Its strength over the model, 0..1. */
  strength: number;
  /** The photo that is being matched, and the place of the model that is still to be shown in it; null: it is pressed on next. */
  matching: { photo: string; place: [number, number, number] | null } | null;
}

export const usePhoto = create<PhotoView>(() => ({ through: null, strength: 0.5, matching: null }));

export type Photo = Reference & Required<Pick<Reference, 'pairs'>>;
export const photosOf = (references: readonly Reference[] | undefined): Photo[] =>
  (references ?? []).filter((one): one is Photo => one.pairs !== undefined);

const cameras = new WeakMap<NonNullable<Reference['pairs']>, MatchedCamera | null>();

/** The camera of a photo, as far as its pairs tell it. */
export function cameraOf({ pairs, width, height }: Photo): MatchedCamera | null {
  if (pairs.length < FEWEST_PAIRS) return null;
  let known = cameras.get(pairs);
  if (known === undefined) cameras.set(pairs, (known = matchCamera(pairs, width / height)));
  return known;
}

/** Puts a photo over the model, to be matched. @throws what the server says of the file */
export async function addPhoto(doc: EaselDocument, file: File): Promise<void> {
  const { blob, width, height } = await sendFile<{ blob: Sha256; width: number; height: number }>('/pictures', file);
  const name = cutTo(file.name.replace(/\.[^.]*$/, ''), 80) || 'Photo';
  const { sheet } = useSession.getState();
  const reference = { id: crypto.randomUUID(), name, blob, sheet, left: 0, top: 0, width, height, pairs: [] };
  doc.commit({ do: 'add-reference', reference });
  beginMatch(reference.id);
}

export function beginMatch(photo: string): void {
  takeInHand('place');
  usePhoto.setState({ through: null, matching: { photo, place: null } });
  announce('Press on a place of the model, then on the same place in the photo; four of them tell where it was taken');
}

/** One more place that is known in the photo. @param x,y shares of it */
export function matchPlace(doc: EaselDocument, photo: Photo, x: number, y: number): void {
  const place = usePhoto.getState().matching?.place;
  if (!place) return;
  const pairs = [...photo.pairs, { place, x, y }];
  doc.commit({ do: 'move-reference', reference: photo.id, set: { pairs } }, `Match ${photo.name}`);
  usePhoto.setState({ matching: { photo: photo.id, place: null } });
}

export const leavePhoto = (): void => usePhoto.setState({ through: null, matching: null });
