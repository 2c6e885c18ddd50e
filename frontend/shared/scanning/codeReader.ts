// Reads QR codes and the usual barcodes in pictures, and in what a camera sees.
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader';
import reader from 'zxing-wasm/reader/zxing_reader.wasm?url';

prepareZXingModule({ overrides: { locateFile: (path: string) => (path.endsWith('.wasm') ? reader : path) } });

/** What the first code in a picture says; null where there is none. */
export async function codeInPicture(picture: Blob | ImageData): Promise<string | null> {
  const found = await readBarcodes(picture, { tryHarder: true, maxNumberOfSymbols: 1 });
  return found.find((code) => code.isValid)?.text ?? null;
}
