/** Copying, cutting and putting down layers by the system's clipboard; pictures from elsewhere become decals. */
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { packLayers, readParcel, unpackLayers, type Parcel } from '@wet-lacquer/core/livery/parcel.ts';
import { withInside } from '@wet-lacquer/core/livery/tree.ts';
import { sentenceOf } from '../lib/api.ts';
import { count } from '../lib/words.ts';
import { uploadDecal } from '../parts/DecalShelf.tsx';
import { addLayer, commitAll, onEverySheet } from './actions.ts';
import { decalLayer } from './buildup/makers.ts';
import { isTaken } from './commands/keys.ts';
import type { EaselDocument } from './document.ts';
import { useView } from './flat/view.ts';
import { choose, announce, setTrouble, useSession } from './session.ts';

const sheetOf = (doc: EaselDocument) => {
  const { sheet } = useSession.getState();
  return sheetNamed(doc.use.getState().template, sheet);
};

/** The chosen layers of the sheet, as a parcel; null when none is chosen. */
function chosenParcel(doc: EaselDocument): Parcel | null {
  const { chosen, also, map } = useSession.getState();
  const ids = [...(chosen ? [chosen] : []), ...also];
  const parcel = packLayers(doc.use.getState().livery, sheetOf(doc), map, ids);
  return parcel.layers.length > 0 ? parcel : null;
}

/** Layers whose stored picture is not on this server: they come from somewhere else. */
async function strangers(parcel: Parcel): Promise<Set<string>> {
  const blobs = new Set(parcel.layers.flatMap((layer) => ('blob' in layer ? [layer.blob as string] : [])));
  const missing = new Set<string>();
  for (const blob of blobs) {
    const answer = await fetch(`/api/blobs/${blob}/thumb`, { method: 'HEAD' });
    if (answer.status === 404) missing.add(blob);
    else if (!answer.ok) throw new InputError('The server does not answer: nothing was put down.');
  }
  return missing;
}

/** Where new layers go: directly above the chosen one, or last. */
function indexAbove(doc: EaselDocument): number {
  const { chosen, sheet, map } = useSession.getState();
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const at = layers.findIndex(({ id }) => id === chosen);
  return at >= 0 ? at + 1 : layers.length;
}

/** Puts a parcel on the sheet that is worked on, as one step: texel for texel, and on the same sheet beside where it was. */
async function putDown(doc: EaselDocument, parcel: Parcel): Promise<void> {
  const missing = await strangers(parcel);
  const known = parcel.layers.filter((layer) => !('blob' in layer && missing.has(layer.blob)));
  if (known.length === 0 && parcel.layers.length > 0)
    throw new InputError('Their pictures are not on this server: bring them into the library first.');
  const { map } = useSession.getState();
  const sheet = sheetOf(doc);
  const { livery } = doc.use.getState();
  const { from } = parcel;
  const stays =
    from.sheet === sheet.key && known.some(({ id }) => layersOf(livery, sheet.key, map).some((one) => one.id === id));
  const { edits: own, layers } = unpackLayers(
    { ...parcel, layers: known },
    livery,
    { sheet, map, index: indexAbove(doc) },
    stays ? { x: 24, y: 24 } : { x: 0, y: 0 },
  );
  const edits = own.flatMap((edit): SingleEdit[] => (edit.do === 'add-layer' ? onEverySheet(doc, edit) : [edit]));
  if (edits.length === 0) return announce('All of it is here already');
  const what = layers.length === 1 ? layers[0].name : count(layers.length, 'layer');
  commitAll(doc, edits, `Put down ${what}`);
  const last = layers.at(-1);
  if (last) {
    choose(last.id);
    useSession.setState({
      also: new Set(
        layers
          .slice(0, -1)
          .filter(({ group }) => !group)
          .map(({ id }) => id as string),
      ),
    });
  }
  const lost = parcel.layers.length - known.length;
  announce(`${what} put down${lost > 0 ? `; ${count(lost, 'picture')} left out: not on this server` : ''}`);
}

function remove(doc: EaselDocument, parcel: Parcel): void {
  const { sheet, map } = useSession.getState();
  const layers = layersOf(doc.use.getState().livery, sheet, map);
  const ids = new Set(parcel.layers.map(({ id }) => id));
  const locked = layers.find((layer) => ids.has(layer.id) && layer.locked);
  if (locked) return announce(`${locked.name} is locked`);
  // Groups go after what they hold.
  const gone = layers.filter(({ id }) => ids.has(id)).flatMap((layer) => withInside(layers, layer));
  const edits = [...new Set(gone)].map((layer): SingleEdit => ({ do: 'remove-layer', layer: layer.id }));
  commitAll(doc, edits, `Cut ${count(edits.length, 'layer')}`);
  choose(null);
  announce(`${count(edits.length, 'layer')} cut`);
}

/** Listens until the returned function is called. */
export function listenToClipboard(doc: EaselDocument): () => void {
  const copy = (event: ClipboardEvent) => {
    // Text that somebody marked is theirs to copy.
    if (isTaken(event.target) || !(getSelection()?.isCollapsed ?? true)) return;
    const parcel = chosenParcel(doc);
    if (!parcel) return;
    event.preventDefault();
    event.clipboardData?.setData('text/plain', JSON.stringify(parcel));
    if (event.type === 'cut') remove(doc, parcel);
    else
      announce(`${parcel.layers.length === 1 ? parcel.layers[0].name : count(parcel.layers.length, 'layer')} copied`);
  };
  const picture = async (file: File) => {
    const { x, y } = useView.getState();
    const named =
      file.name && file.name !== 'image.png' ? file : new File([file], 'From the clipboard.png', { type: file.type });
    const decal = await uploadDecal(named);
    await addLayer(doc, decalLayer(decal, { sheet: sheetOf(doc), x: Math.round(x), y: Math.round(y) }), 'Marks');
  };
  const paste = (event: ClipboardEvent) => {
    if (isTaken(event.target)) return;
    const failed = (error: unknown) => setTrouble(sentenceOf(error));
    const file = [...(event.clipboardData?.files ?? [])].find(({ type }) => type.startsWith('image/'));
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!file && !text.includes('"parcel"')) return;
    event.preventDefault();
    if (file) void picture(file).catch(failed);
    else {
      try {
        void putDown(doc, readParcel(text)).catch(failed);
      } catch (error) {
        failed(error);
      }
    }
  };
  document.addEventListener('copy', copy);
  document.addEventListener('cut', copy);
  document.addEventListener('paste', paste);
  return () => {
    document.removeEventListener('copy', copy);
    document.removeEventListener('cut', copy);
    document.removeEventListener('paste', paste);
  };
}
