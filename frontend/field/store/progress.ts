// How far the interviews that are being sent are: known to this page only, and forgotten once they have arrived.

/** Of the files of an interview: how many bytes there are to send, and how many of them the office has. */
export interface Sent {
  files: number;
  bytes: number;
  sent: number;
}

let sending: Record<string, Sent> = {};
const listeners = new Set<() => void>();

function tell(next: Record<string, Sent>): void {
  sending = next;
  for (const listen of listeners) listen();
}

export const sendingNow = (): Record<string, Sent> => sending;

export function onSending(listen: () => void): () => void {
  listeners.add(listen);
  return () => {
    listeners.delete(listen);
  };
}

/** Begin to tell how far an interview is; what is returned is told how much of each file has arrived, and the end. */
export function tellSending(uuid: string, files: { hash: string; bytes: number }[]) {
  const arrived = new Map<string, number>();
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const show = () => {
    const sent = [...arrived.values()].reduce((sum, each) => sum + each, 0);
    tell({ ...sending, [uuid]: { files: files.length, bytes, sent } });
  };
  show();
  return {
    arrived: (hash: string, upTo: number) => {
      arrived.set(hash, upTo);
      show();
    },
    ended: () => {
      const rest = { ...sending };
      Reflect.deleteProperty(rest, uuid);
      tell(rest);
    },
  };
}
