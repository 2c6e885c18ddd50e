// Reads QR codes and barcodes in pictures.
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader';
import reader from 'zxing-wasm/reader/zxing_reader.wasm?url';

prepareZXingModule({ overrides: { locateFile: (path: string) => (path.endsWith('.wasm') ? reader : path) } });

/** What the first code in a picture says; null where there is none. */
export async function codeInPicture(picture: Blob): Promise<string | null> {
  const found = await readBarcodes(picture, { tryHarder: true, maxNumberOfSymbols: 1 });
  return found.find((code) => code.isValid)?.text ?? null;
}
