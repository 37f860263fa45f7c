import { FileUp } from 'lucide-react';
import { useRef } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { LIST_FIELDS, type ListField } from '@ecoute/core/formats/roster';
import type { ImportChoices, ImportRow, ImportView, RowFate } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Segments } from '../../parts/Segments';
import {
  useBringListMutation,
  useCancelImportMutation,
  useChooseImportMutation,
  useClassQuery,
  useConfirmImportMutation,
  useImportQuery,
} from './endpoints';

const FIELD_WORDS: Record<ListField, string> = {
  name: 'name',
  givenName: 'given name',
  familyName: 'family name',
  signInName: 'sign-in name',
  email: 'mail address',
  externalId: 'student’s number',
  className: 'class',
  group: 'group',
  extraTime: 'extra time',
  familyEmail: 'mail of the family',
  familyLanguage: 'language of the family',
};

const FATES: Record<RowFate, string> = {
  new: 'new here',
  joins: 'joins, known here',
  asked: 'is asked first',
  already: 'already in it',
  sameName: 'same name',
  leftOut: 'left out',
};

/** Chooses the file; the next page shows what it would do. */
export function BringListPage() {
  const { id = null } = useParams();
  const { data: of } = useClassQuery(id ?? '', { skip: !id });
  const [bring, bringing] = useBringListMutation();
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  useTitle('Bring in a list');
  const refusal = refusalOf(bringing.error);
  return (
    <section className="grid max-w-3xl grid-cols-1 gap-5">
      <div>
        <p className="text-soft">
          <Link to={id ? `/classes/${id}` : '/classes'} className="underline underline-offset-4">
            {of?.name ?? 'Classes'}
          </Link>
        </p>
        <h1 className="text-3xl">{id ? 'Bring in a list' : 'Bring in lists'}</h1>
      </div>
      <p>
        {id
          ? 'A CSV file with a name in each row. Mail address, sign-in name, group and extra time are read where there are columns for them.'
          : 'A OneRoster ZIP (1.1 or 1.2) with whole classes, or a CSV file with a column for the class.'}{' '}
        You see first what it would do; nothing is changed before you say so.
      </p>
      <div>
        <Button look="main" disabled={bringing.isLoading} onClick={() => file.current?.click()}>
          <FileUp aria-hidden className="size-5" /> {bringing.isLoading ? 'Reading …' : 'Choose a file'}
        </Button>
        <input
          ref={file}
          type="file"
          aria-hidden
          aria-label="File with the list"
          accept=".csv,.txt,.tsv,.zip,text/csv,application/zip"
          className="sr-only"
          tabIndex={-1}
          onChange={e => {
            const chosen = e.target.files?.[0];
            e.target.value = '';
            if (chosen)
              void bring({ classId: id, file: chosen })
                .unwrap()
                .then(
                  made => navigate(`/lists/${made.id}`),
                  () => undefined,
                );
          }}
        />
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
    </section>
  );
}

/** The first rows of a plain list, with what each column holds to be chosen above it. */
function Columns({ view, onChoose }: { view: ImportView; onChoose: (choices: ImportChoices) => void }) {
  const { choices, sample } = view;
  return (
    <div className="overflow-x-auto bg-sheet">
      <table className="text-start text-sm">
        <thead>
          <tr>
            {choices.columns.map(({ field }, i) => (
              <th key={i} className="border-b-2 border-ink p-2 text-start font-normal">
                <select
                  aria-label={`Column ${i + 1} holds`}
                  value={field ?? ''}
                  onChange={e =>
                    onChoose({
                      ...choices,
                      columns: choices.columns.map((c, at) =>
                        at === i
                          ? { field: e.target.value || null }
                          : { field: c.field === e.target.value ? null : c.field },
                      ),
                    })
                  }
                  className="min-h-9 border-2 border-edge bg-sheet px-1"
                >
                  <option value="">not read</option>
                  {LIST_FIELDS.map(f => (
                    <option key={f} value={f}>
                      {FIELD_WORDS[f]}
                    </option>
                  ))}
                </select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sample.map((cells, n) => (
            <tr key={n} className={n === 0 && choices.hasHeader ? 'text-soft italic' : ''}>
              {choices.columns.map((_, i) => (
                <td key={i} dir="auto" className="max-w-60 truncate border-b border-line px-3 py-2">
                  {cells[i]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Rows({ rows, total }: { rows: readonly ImportRow[]; total: number }) {
  return (
    <div className="max-h-[28rem] overflow-auto bg-sheet">
      <table className="w-full text-sm">
        <thead className="sticky top-0 bg-sheet text-soft">
          <tr>
            <th className="px-3 py-2 text-end font-normal">Row</th>
            <th className="px-3 text-start font-normal">Name</th>
            <th className="px-3 text-start font-normal">What becomes of it</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => (
            <tr key={i} className="border-t border-line">
              <td className="tabular px-3 py-1.5 text-end">{r.row}</td>
              <td className="px-3">
                <bdi>
                  {r.name || '–'}
                  {r.className && <span className="text-soft"> · {r.className}</span>}
                </bdi>
              </td>
              <td className="px-3">
                {FATES[r.fate]}
                {r.why && <span className="text-soft">: {r.why}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > rows.length && (
        <p className="border-t border-line px-3 py-2 text-sm text-soft">
          {total - rows.length} more rows with nothing to say of them.
        </p>
      )}
    </div>
  );
}

/** What a list would do, then does: preview, progress, report. */
export function ImportPage() {
  const { id = '' } = useParams();
  const first = useImportQuery(id);
  const busy = first.data?.state === 'waiting' || first.data?.state === 'running';
  const { data: view } = useImportQuery(id, { pollingInterval: busy ? 500 : 0 });
  const [choose, choosing] = useChooseImportMutation();
  const [confirm, confirming] = useConfirmImportMutation();
  const [cancel] = useCancelImportMutation();
  useTitle('Bring in a list');
  if (first.isLoading) return <Loading />;
  if (!view) return <Failed error={first.error} again={() => void first.refetch()} />;
  const { counts, choices } = view;
  const taking = counts.new + counts.joins + (choices.sameNames === 'add' ? counts.sameName : 0);
  const total = counts.new + counts.joins + counts.already + counts.sameName + counts.leftOut;
  const named = choices.columns.some(c => c.field && ['name', 'givenName', 'familyName'].includes(c.field));
  const refusal = refusalOf(choosing.error) ?? refusalOf(confirming.error);
  const set = (wanted: ImportChoices) => void choose({ id, ...wanted });
  const back = view.classId ? `/classes/${view.classId}` : '/classes';
  return (
    <section className="grid grid-cols-1 gap-5">
      <div>
        <p className="text-soft">
          <Link to={back} className="underline underline-offset-4">
            {view.className ?? 'Classes'}
          </Link>
        </p>
        <h1 className="text-3xl break-words">{view.fileName}</h1>
      </div>
      {view.state === 'done' ? (
        <Notice>
          <strong>Done.</strong> {counts.new} new, {counts.joins} from other classes
          {counts.newClasses > 0 && `, ${counts.newClasses} new classes`}. Next, give those who are new their
          one-time codes:{' '}
          {view.classes.map((c, i) => (
            <span key={c.id}>
              {i > 0 && ', '}
              <Link to={`/classes/${c.id}/codes`} className="underline underline-offset-4">
                {c.name}
              </Link>
            </span>
          ))}
        </Notice>
      ) : view.state === 'cancelled' ? (
        <Notice action={<ButtonLink to={back}>Back</ButtonLink>}>Let go of. Nothing was changed.</Notice>
      ) : view.state === 'failed' ? (
        <Notice kind="trouble">
          Something went wrong and nothing was changed. Bring the list in once more.
        </Notice>
      ) : busy ? (
        <Notice action={<Button onClick={() => void cancel(id)}>Cancel, change nothing</Button>}>
          <p role="status">{view.total > 0 ? `${view.done} of ${view.total} rows` : 'Beginning …'}</p>
          <progress className="mt-2 w-full max-w-md" max={Math.max(1, view.total)} value={view.done} />
        </Notice>
      ) : (
        <>
          {view.kind === 'list' && (
            <>
              <Columns view={view} onChoose={set} />
              {!named && <Notice kind="trouble">No column holds names. Choose which one does, above.</Notice>}
            </>
          )}
          {counts.sameName > 0 && (
            <div className="grid gap-2">
              <p>
                {counts.sameName === 1 ? 'One row has' : `${counts.sameName} rows have`} the name of somebody
                who is in the class already, and nothing else that tells them apart.
              </p>
              <Segments
                label="Rows with the same name"
                value={choices.sameNames}
                options={[
                  { value: 'leaveOut', name: 'the same people: leave out' },
                  { value: 'add', name: 'other people: add them' },
                ]}
                onChange={sameNames => set({ ...choices, sameNames })}
              />
            </div>
          )}
          {counts.newClasses > 0 && (
            <Segments
              label="Subject of the new classes"
              value={choices.subject}
              options={[
                { value: 'language', name: 'language classes' },
                { value: 'music', name: 'music classes' },
              ]}
              onChange={subject => set({ ...choices, subject })}
            />
          )}
          {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
          <div className="flex flex-wrap items-center gap-3">
            <Button
              look="main"
              disabled={taking === 0 || confirming.isLoading || choosing.isLoading}
              onClick={() => void confirm(id)}
            >
              Bring in {taking} {taking === 1 ? 'person' : 'people'}
              {counts.newClasses > 0 && ` and ${counts.newClasses} classes`}
            </Button>
            <ButtonLink to={back}>Leave it</ButtonLink>
          </div>
        </>
      )}
      <dl className="flex flex-wrap gap-x-10 gap-y-3">
        {(Object.keys(FATES) as RowFate[]).map(fate => (
          <div key={fate}>
            <dd className="tabular text-2xl">{counts[fate]}</dd>
            <dt className="text-sm text-soft">{FATES[fate]}</dt>
          </div>
        ))}
      </dl>
      <Rows rows={view.rows} total={total} />
    </section>
  );
}
