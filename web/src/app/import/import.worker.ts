/** Reads table files off the main thread; the cells stay here, only shapes, previews and readings go out. */
import {
  describeStockFile,
  describeSweepFile,
  readStockFile,
  readSweepFile,
  stockColumns,
  sweepColumns,
  type StockFile,
  type StockTarget,
  type SweepFile,
  type SweepTarget,
  type TableShape,
} from '@estuarine/core';
import * as comlink from 'comlink';
import { readGrid } from './read-text.ts';

export type ImportTarget =
  { readonly kind: 'sweep'; readonly modules: SweepTarget } | { readonly kind: 'stock'; readonly type: StockTarget };

export type Opened =
  | {
      readonly kind: 'opened';
      readonly shape: TableShape;
      readonly preview: readonly (readonly string[])[];
      readonly rowCount: number;
      readonly encoding: string;
      readonly delimiter: string;
      readonly columns: readonly { readonly key: string; readonly name: string; readonly unit: string }[];
    }
  | { readonly kind: 'unreadable'; readonly reason: string };

const PREVIEW_ROWS = 6;

class Reader {
  #rows: string[][] = [];

  open(bytes: Uint8Array, target: ImportTarget): Opened {
    const grid = readGrid(bytes);
    if (grid.kind === 'unreadable') return grid;
    this.#rows = grid.rows;
    const shape = target.kind === 'sweep' ? describeSweepFile(grid.rows, target.modules) : describeStockFile(grid.rows, target.type);
    const columns = target.kind === 'sweep' ? sweepColumns(target.modules) : stockColumns(target.type);
    const first = shape.headingRow + 1;
    return {
      kind: 'opened',
      shape,
      preview: grid.rows.slice(first, first + PREVIEW_ROWS),
      rowCount: grid.rows.slice(first).filter((r) => r.some((c) => c.trim() !== '')).length,
      encoding: grid.encoding,
      delimiter: grid.delimiter,
      columns: columns.map(({ key, name, unit }) => ({ key, name, unit })),
    };
  }

  read(shape: TableShape, target: ImportTarget): SweepFile | StockFile {
    return target.kind === 'sweep' ? readSweepFile(this.#rows, shape, target.modules) : readStockFile(this.#rows, shape, target.type);
  }
}

export type ImportReader = Reader;

comlink.expose(new Reader());
