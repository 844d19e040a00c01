/** Workbooks for spreadsheets: tables with a bold head, frozen, and text that begins like a formula defused. */
import ExcelJS from 'exceljs';

export type Cell = string | number | boolean | Date | null;

export interface Sheet {
  readonly name: string;
  readonly columns: readonly { readonly name: string; readonly width?: number }[];
  readonly rows: readonly (readonly Cell[])[];
}

/** @param at when it was made; the same tables of the same moment are the same workbook */
export async function writeWorkbook(sheets: readonly Sheet[], at: Date): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  Object.assign(book, { creator: 'Estuarine', created: at, modified: at });
  for (const { name, columns, rows } of sheets) {
    const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
    sheet.columns = columns.map((c) => ({ header: c.name, width: c.width ?? 16 }));
    sheet.getRow(1).font = { bold: true };
    for (const row of rows) sheet.addRow(row.map(defuse));
    sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: Math.max(1, columns.length) } };
  }
  return Buffer.from(await book.xlsx.writeBuffer());
}

/** A cell of text is text, whatever it begins with; the apostrophe keeps it so when the sheet is saved as CSV and read again. */
function defuse(cell: Cell): Cell {
  return typeof cell === 'string' && /^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell;
}
