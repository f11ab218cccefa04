import { v4 as uuid } from 'uuid';
import { database } from './database';

/** A photo or document, as a form or an entry names it; its content lies on the device until the server has it. */
export interface ChosenFile {
  /** Made by the device; sending it twice keeps one. */
  id: string;
  name: string;
  bytes: number;
}

/** A name is no longer than this; the end tells more than the beginning. */
const NAME_AT_MOST = 80;

/** Keeps a file on the device. Done only when the device has written it. */
export async function keepFile(file: File): Promise<ChosenFile> {
  const id = uuid();
  // A copy: the file itself may be moved, or the camera's card be pulled.
  const content = new Blob([await file.arrayBuffer()], { type: file.type });
  const tx = (await database()).transaction('files', 'readwrite', { durability: 'strict' });
  await tx.store.put(content, id);
  await tx.done;
  return { id, name: file.name.slice(-NAME_AT_MOST), bytes: file.size };
}

/** The content of a file; nothing where the server has it already. */
export async function contentOf(id: string): Promise<Blob | undefined> {
  return (await database()).get('files', id);
}

export async function forgetFile(id: string): Promise<void> {
  await (await database()).delete('files', id);
}
