import { percentOf } from '@ecoute/core/scoring/shares';
import type { Markbook } from '@ecoute/contract/results';
import { cellLine } from './cellWords';
import { columnSummary, ruleWords, type Row } from './narrowed';

/** So many columns lie beside each other on a sheet of paper. */
const COLUMNS_A_SHEET = 8;

const cellClass = 'border border-[#999] px-1.5 py-1 text-start align-top';

/** The markbook as paper takes it: all of it, a few columns to a sheet, names on each. */
export function PrintedMarkbook({
  book,
  rows,
  columns,
}: {
  book: Markbook;
  rows: readonly Row[];
  columns: readonly number[];
}) {
  const sheets = Array.from({ length: Math.max(1, Math.ceil(columns.length / COLUMNS_A_SHEET)) }, (_, i) =>
    columns.slice(i * COLUMNS_A_SHEET, (i + 1) * COLUMNS_A_SHEET),
  );
  return (
    <div className="hidden text-xs print:block">
      {sheets.map((own, n) => (
        <section key={n} className={n > 0 ? 'break-before-page' : ''}>
          <h1 className="mb-2 text-lg font-semibold">
            {book.className} · markbook{sheets.length > 1 && `, sheet ${n + 1} of ${sheets.length}`}
          </h1>
          <table className="w-full border-collapse">
            <thead>
              <tr>
                <th className={cellClass}>Student</th>
                {n === 0 && <th className={cellClass}>average</th>}
                {own.map(at => (
                  <th key={at} className={cellClass}>
                    {book.columns[at]!.title}
                    <span className="block font-normal">
                      {new Date(book.columns[at]!.dueAt).toLocaleDateString('en-GB')}
                    </span>
                    <span className="block font-normal">{columnSummary(book, rows, at)}</span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map(({ student, cells, average }) => (
                <tr key={student.id} className="break-inside-avoid">
                  <th className={cellClass}>{student.displayName}</th>
                  {n === 0 && (
                    <td className={cellClass}>
                      {average ? `${percentOf(average.given, average.most)} % of ${average.count}` : '–'}
                    </td>
                  )}
                  {own.map(at => (
                    <td key={at} className={cellClass}>
                      {cells[at] ? cellLine(cells[at], book.columns[at]!) : ''}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
      <p className="mt-2">{ruleWords(book)}</p>
    </div>
  );
}
