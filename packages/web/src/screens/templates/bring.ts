/** Files on their way to the server: chosen, or dropped with their folders. */
import { create } from 'zustand';
import { mutate } from 'swr';
import { send, sendFile, sentenceOf } from '../../lib/api.ts';

/** A file with its path in the folder that it came from. */
export interface Brought {
  path: string;
  file: File;
}

interface Sending {
  intake: string | null;
  done: number;
  of: number;
  /** Files that were not taken, with the reason. */
  refused: string[];
}

/** What is being sent; the screen of the intake shows it. */
export const useSending = create<Sending>(() => ({ intake: null, done: 0, of: 0, refused: [] }));

export const chosen = (list: FileList): Brought[] =>
  [...list].map((file) => ({ path: file.webkitRelativePath || file.name, file }));

/** Everything that was dropped, folders opened. Must be called while the drop is handled. */
export async function dropped(transfer: DataTransfer): Promise<Brought[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  if (entries.length === 0) return chosen(transfer.files);
  return (await Promise.all(entries.map((entry) => filesIn(entry, '')))).flat();
}

async function filesIn(entry: FileSystemEntry, before: string): Promise<Brought[]> {
  const path = before ? `${before}/${entry.name}` : entry.name;
  if (entry.isFile) {
    const file = await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail));
    return [{ path, file }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const out: Brought[] = [];
  for (;;) {
    // A reader gives a part of the folder at a time, and nothing at its end.
    const part = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (part.length === 0) return out;
    out.push(...(await Promise.all(part.map((inner) => filesIn(inner, path)))).flat());
  }
}

/** Opens an intake for files. @returns its id; sending goes on */
export async function bringIn(files: Brought[]): Promise<string> {
  const name = files.length === 1 ? files[0].path : (files[0]?.path.split('/')[0] ?? 'files');
  const { id } = await send<{ id: string }>('POST', '/intakes', { name });
  void sendAll(id, files);
  return id;
}

/** Sends files to an intake, one after the other; what is refused is told, and the rest goes on. */
export async function sendAll(id: string, files: Brought[]): Promise<void> {
  useSending.setState({ intake: id, done: 0, of: files.length, refused: [] });
  for (const { path, file } of files) {
    if (useSending.getState().intake !== id) return;
    try {
      await sendFile(`/intakes/${id}/files?${new URLSearchParams({ name: path })}`, file);
    } catch (failure) {
      useSending.setState(({ refused }) => ({ refused: [...refused, `${path}: ${sentenceOf(failure)}`] }));
    }
    useSending.setState(({ done }) => ({ done: done + 1 }));
    void mutate(`/intakes/${id}`);
  }
}

/** Sends no more. */
export const stopSending = () => useSending.setState({ intake: null, done: 0, of: 0, refused: [] });
