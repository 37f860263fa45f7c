import { Dialog } from 'radix-ui';
import { Trash2, Upload } from 'lucide-react';
import Papa from 'papaparse';
import { useRef, useState, type ReactNode } from 'react';
import { statementsIn, type StatementRows } from '@ecoute/core/formats/statements';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { textOfFile } from '../../../parts/textOfFile';
import { useMakeTagListMutation, useRemoveTagListMutation, useTagListsQuery } from '../endpoints';

const PREVIEWED = 6;
const LARGEST_BYTES = 5 * 1024 * 1024;

interface Preview extends StatementRows {
  name: string;
}

/** Lists of can-do statements: what is there, and another one from a CSV file, looked at before it is kept. */
export function TagLists({ trigger }: { trigger: ReactNode }) {
  const [open, setOpen] = useState(false);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { data: lists = [] } = useTagListsQuery(undefined, { skip: !open });
  const [make, making] = useMakeTagListMutation();
  const [remove] = useRemoveTagListMutation();
  const read = async (chosen: File) => {
    setTrouble(null);
    setPreview(null);
    if (chosen.size > LARGEST_BYTES) {
      setTrouble('A list of statements has at most 5 MB. Choose the list alone, without pictures.');
      return;
    }
    const { data } = Papa.parse<string[]>(await textOfFile(chosen), { skipEmptyLines: 'greedy' });
    const found = statementsIn(data, LIMITS.tagCode, LIMITS.tagWords);
    if (found.statements.length === 0)
      setTrouble(
        'No statement was found in this file. It needs a column with the statements, and may have one with codes.',
      );
    else if (found.statements.length > LIMITS.statements)
      setTrouble(
        `A list has at most ${LIMITS.statements} statements; this one has ${found.statements.length}. Divide it.`,
      );
    else setPreview({ ...found, name: chosen.name.replace(/\.[^.]+$/, '').slice(0, LIMITS.title) });
  };
  const keep = async () => {
    if (!preview) return;
    try {
      await make({ name: preview.name.trim() || 'Statements', statements: preview.statements }).unwrap();
      setPreview(null);
    } catch (error) {
      setTrouble(refusalOf(error)?.message ?? 'The list could not be stored just now. Try again.');
    }
  };
  return (
    <Dialog.Root
      open={open}
      onOpenChange={o => {
        setOpen(o);
        setPreview(null);
        setTrouble(null);
      }}
    >
      <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-4 top-8 z-50 mx-auto grid max-h-[calc(100dvh-4rem)] max-w-2xl gap-4 overflow-y-auto border-2 border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-xl">Lists of statements</Dialog.Title>
          <p>
            Can-do statements or standards that items and assessments are tagged with. A list comes from a CSV
            file: one column with the statements, one with codes if there are any. Colleagues of your
            departments see your lists.
          </p>
          {lists.length > 0 && (
            <ul className="divide-y divide-line border-y border-line">
              {lists.map(list => (
                <li key={list.id} className="flex items-center gap-3 py-1">
                  <span className="flex-1">
                    <strong>{list.name}</strong>{' '}
                    <span className="text-soft">
                      {list.tags.length} {list.tags.length === 1 ? 'statement' : 'statements'}
                    </span>
                  </span>
                  <Button aria-label={`Remove ${list.name}`} onClick={() => void remove(list.id)}>
                    <Trash2 aria-hidden className="size-5" />
                  </Button>
                </li>
              ))}
            </ul>
          )}
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          {preview && (
            <div className="grid gap-3 border-2 border-saffron p-4">
              <Field label="Name of the list">
                {ties => (
                  <input
                    {...ties}
                    value={preview.name}
                    maxLength={LIMITS.title}
                    onChange={e => setPreview({ ...preview, name: e.target.value })}
                    className={inputClass}
                  />
                )}
              </Field>
              <table className="w-full text-start">
                <thead className="text-sm text-soft">
                  <tr>
                    <th className="pe-4 font-normal">Code</th>
                    <th className="font-normal">Statement</th>
                  </tr>
                </thead>
                <tbody>
                  {preview.statements.slice(0, PREVIEWED).map((s, i) => (
                    <tr key={i} className="border-t border-line align-top">
                      <td className="tabular py-1 pe-4">{s.code || '–'}</td>
                      <td className="py-1">{s.words}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
              {preview.statements.length > PREVIEWED && (
                <p className="text-soft">… and {preview.statements.length - PREVIEWED} more.</p>
              )}
              {preview.left.length > 0 && (
                <details>
                  <summary className="font-semibold">
                    {preview.left.length === 1 ? 'One row is' : `${preview.left.length} rows are`} left out
                  </summary>
                  <ul className="list-disc ps-6">
                    {preview.left.slice(0, 100).map(l => (
                      <li key={l.row}>
                        Row {l.row} {l.why}.
                      </li>
                    ))}
                  </ul>
                </details>
              )}
              <div className="flex flex-wrap gap-3">
                <Button look="main" disabled={making.isLoading} onClick={() => void keep()}>
                  Keep {preview.statements.length}{' '}
                  {preview.statements.length === 1 ? 'statement' : 'statements'}
                </Button>
                <Button onClick={() => setPreview(null)}>Leave it</Button>
              </div>
            </div>
          )}
          <div className="flex flex-wrap justify-between gap-3">
            <Button onClick={() => file.current?.click()}>
              <Upload aria-hidden className="size-5" /> A list from a CSV file …
            </Button>
            <Dialog.Close asChild>
              <Button>Close</Button>
            </Dialog.Close>
          </div>
          <input
            ref={file}
            type="file"
            aria-hidden
            accept=".csv,.tsv,.txt,text/csv"
            aria-label="CSV file with statements"
            className="sr-only"
            tabIndex={-1}
            onChange={e => {
              const chosen = e.target.files?.[0];
              if (chosen) void read(chosen);
              e.target.value = '';
            }}
          />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
