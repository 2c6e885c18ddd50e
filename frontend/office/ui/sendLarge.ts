// Files too large for one request: sent in pieces, from where they broke off, with how far they are.
import { send } from '../../shared/api/client';
import { sendInPieces } from '../../shared/api/pieces';

const PIECE_BYTES = 4 << 20;
const NAME_BYTES = 32;

interface Large<Answer> {
  /** Where files of this kind arrive; each gets a name by chance behind it. */
  address: string;
  query?: Record<string, string>;
  file: File;
  isWhole: (answer: Answer) => boolean;
  /** Is told the share that has been sent, between 0 and 1. */
  onSent?: (share: number) => void;
}

/** Send a file; returns what the server says once it has all of it. */
export async function sendLarge<Answer extends { received: number }>({
  address,
  query = {},
  file,
  isWhole,
  onSent = () => undefined,
}: Large<Answer>): Promise<Answer> {
  const random = crypto.getRandomValues(new Uint8Array(NAME_BYTES));
  const name = Array.from(random, (byte) => byte.toString(16).padStart(2, '0')).join('');
  const asked = new URLSearchParams(query).toString();
  const piece = async (from: number) => {
    const end = Math.min(from + PIECE_BYTES, file.size);
    onSent(end / Math.max(1, file.size));
    return new Uint8Array(await file.slice(from, end).arrayBuffer());
  };
  return sendInPieces(
    file.size,
    piece,
    (sent) => send<Answer>(`${address}/${name}${sent.method === 'PUT' && asked !== '' ? `?${asked}` : ''}`, sent),
    isWhole,
  );
}
