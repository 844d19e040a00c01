/** Zips as a reader program takes them apart. */
import { fromBuffer } from 'yauzl';

export interface Members {
  readonly names: string[];
  readonly bytes: Map<string, Buffer>;
}

export async function unzip(zip: Buffer): Promise<Members> {
  return new Promise((resolve, reject) => {
    fromBuffer(zip, { lazyEntries: true }, (error, file) => {
      if (error) {
        reject(error);
        return;
      }
      const found: Members = { names: [], bytes: new Map() };
      file.on('entry', (entry) => {
        file.openReadStream(entry, (failed, stream) => {
          if (failed) {
            reject(failed);
            return;
          }
          const chunks: Buffer[] = [];
          stream.on('data', (c: Buffer) => chunks.push(c));
          stream.on('end', () => {
            found.names.push(entry.fileName);
            found.bytes.set(entry.fileName, Buffer.concat(chunks));
            file.readEntry();
          });
        });
      });
      file.on('end', () => resolve(found));
      file.readEntry();
    });
  });
}
