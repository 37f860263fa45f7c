import { ListChecks } from 'lucide-react';
import { useState } from 'react';
import { fromHundredths, parsePoints, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { PolicyName } from '@ecoute/core/timing/startingPoints';
import { clock, parseLength } from '@ecoute/core/timing/words';
import type { AnswerBy } from '@ecoute/core/timing/strip';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import type { Setting } from '../draft';
import { ANSWERED } from './answered';
import { inLine } from './itemSearch';
import { lengthProblem } from './LengthInput';

const CHOICES = {
  takesAllowed: { label: 'Takes', options: [1, 2, 3, 4, 5, 10, 0], none: 'no limit', one: 'one only' },
  hearingsAllowed: {
    label: 'Prompt is heard',
    options: [1, 2, 3, 4, 5, 10, 0],
    none: 'without limit',
    one: 'once',
  },
} as const;

const YES_NO: [PolicyName & ('required' | 'passAllowed' | 'pauseAllowed' | 'trimAllowed'), string][] = [
  ['required', 'Must be answered'],
  ['passAllowed', 'May be passed on'],
  ['pauseAllowed', 'May pause while recording'],
  ['trimAllowed', 'May cut silence off a take'],
];

/** Several items set at once: which ones, and what; one step that can be taken back. */
export function SeveralItems({
  content,
  onSet,
}: {
  content: AssessmentContent;
  onSet: (ids: ReadonlySet<string>, setting: Setting) => void;
}) {
  const [open, setOpen] = useState(false);
  /** Those that are left out: all others are meant, also ones that come later. */
  const [out, setOut] = useState<ReadonlySet<string>>(new Set());
  const [setting, setSetting] = useState<Setting>({});
  const [problems, setProblems] = useState<Record<string, string | null>>({});
  const [typed, setTyped] = useState<Partial<Record<keyof Setting, string>>>({});
  const [done, setDone] = useState<string | null>(null);
  const { items } = content;
  const chosen = new Set(items.filter(i => !out.has(i.id)).map(i => i.id));
  if (items.length < 2) return null;
  const put = (change: Setting) => {
    setDone(null);
    setSetting(s => ({ ...s, ...change }));
  };
  const leave = (name: keyof Setting) => {
    setProblems(p => ({ ...p, [name]: null }));
    setSetting(({ [name]: _left, ...rest }) => rest);
  };
  const report = (name: string) => (problem: string | null) => setProblems(p => ({ ...p, [name]: problem }));
  const count = Object.keys(setting).length;
  const wrong = Object.values(problems).some(p => p !== null);
  const asIs = <option value="">as each has it</option>;
  const length = (
    name: 'prepareMs' | 'answerLimitMs' | 'shortestAnswerMs',
    label: string,
    leastMs: number,
    mostMs: number,
  ) => (
    <Field label={label} error={problems[name] ?? null}>
      {ties => (
        <input
          {...ties}
          inputMode="numeric"
          className={`${inputClass} tabular`}
          placeholder="as each has it"
          value={typed[name] ?? ''}
          onChange={e => {
            const text = e.target.value;
            setTyped(t => ({ ...t, [name]: text }));
            if (text.trim() === '') return leave(name);
            const ms = parseLength(text);
            report(name)(lengthProblem(ms, leastMs, mostMs));
            if (ms !== null) put({ [name]: ms });
          }}
        />
      )}
    </Field>
  );
  const choice = (name: keyof typeof CHOICES) => (
    <Field label={CHOICES[name].label}>
      {ties => (
        <select
          {...ties}
          className={inputClass}
          value={setting[name] ?? ''}
          onChange={e => (e.target.value === '' ? leave(name) : put({ [name]: Number(e.target.value) }))}
        >
          {asIs}
          {CHOICES[name].options.map(n => (
            <option key={n} value={n}>
              {n === 0 ? CHOICES[name].none : n === 1 ? CHOICES[name].one : n}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
  return (
    <>
      <Button aria-expanded={open} onClick={() => setOpen(!open)}>
        <ListChecks aria-hidden className="size-5" /> Set several at once
      </Button>
      {open && (
        <section
          aria-label="Set several at once"
          className="order-last grid w-full gap-5 border-2 border-ink bg-sheet p-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]"
        >
          <div className="grid content-start gap-1">
            <p className="flex flex-wrap items-center gap-3">
              <strong>
                {chosen.size} of {items.length} items
              </strong>
              <Button look="quiet" onClick={() => setOut(new Set())}>
                All
              </Button>
              <Button look="quiet" onClick={() => setOut(new Set(items.map(i => i.id)))}>
                None
              </Button>
            </p>
            <ul className="max-h-64 overflow-y-auto" aria-label="Which items">
              {items.map((item, n) => (
                <li key={item.id}>
                  <Tick
                    checked={chosen.has(item.id)}
                    onChange={on => {
                      const next = new Set(out);
                      if (on) next.delete(item.id);
                      else next.add(item.id);
                      setOut(next);
                    }}
                  >
                    <span className="tabular">{n + 1}</span> {inLine(item).slice(0, 60) || 'no prompt yet'}{' '}
                    <span className="text-sm text-soft">{clock(item.answerLimitMs)}</span>
                  </Tick>
                </li>
              ))}
            </ul>
          </div>
          <div className="grid content-start gap-4">
            <div className="grid gap-x-4 gap-y-3 sm:grid-cols-2">
              {length('prepareMs', 'Time to prepare', 0, LIMITS.prepareMs)}
              {length('answerLimitMs', 'Answer limit', LIMITS.shortestAnswerLimitMs, LIMITS.answerMs)}
              {length('shortestAnswerMs', 'Shortest answer', 0, LIMITS.answerMs)}
              <Field label="Points" error={problems.points ?? null}>
                {ties => (
                  <input
                    {...ties}
                    inputMode="decimal"
                    className={`${inputClass} tabular`}
                    placeholder="as each has it"
                    value={typed.points ?? ''}
                    onChange={e => {
                      const text = e.target.value;
                      setTyped(t => ({ ...t, points: text }));
                      if (text.trim() === '') return leave('points');
                      const hundredths = parsePoints(text);
                      report('points')(hundredths === null ? 'Type points such as 5 or 2.5.' : null);
                      if (hundredths !== null) put({ points: fromHundredths(hundredths) });
                    }}
                  />
                )}
              </Field>
              {choice('takesAllowed')}
              {choice('hearingsAllowed')}
              <Field label="Answered">
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={setting.answerBy ?? ''}
                    onChange={e =>
                      e.target.value === ''
                        ? leave('answerBy')
                        : put({ answerBy: e.target.value as AnswerBy })
                    }
                  >
                    {asIs}
                    {Object.entries(ANSWERED).map(([by, words]) => (
                      <option key={by} value={by}>
                        {words}
                      </option>
                    ))}
                  </select>
                )}
              </Field>
              <Field label="Answer begins">
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={setting.startsBy ?? ''}
                    onChange={e =>
                      e.target.value === ''
                        ? leave('startsBy')
                        : put({ startsBy: e.target.value as Item['startsBy'] })
                    }
                  >
                    {asIs}
                    <option value="student">when the student says so</option>
                    <option value="itself">automatically, after a beep</option>
                  </select>
                )}
              </Field>
              {YES_NO.map(([name, label]) => (
                <Field key={name} label={label}>
                  {ties => (
                    <select
                      {...ties}
                      className={inputClass}
                      value={setting[name] === undefined ? '' : String(setting[name])}
                      onChange={e =>
                        e.target.value === '' ? leave(name) : put({ [name]: e.target.value === 'true' })
                      }
                    >
                      {asIs}
                      <option value="true">yes</option>
                      <option value="false">no</option>
                    </select>
                  )}
                </Field>
              ))}
            </div>
            <div className="flex flex-wrap items-center gap-3">
              <Button
                look="main"
                disabled={count === 0 || chosen.size === 0 || wrong}
                onClick={() => {
                  onSet(chosen, setting);
                  setDone(
                    `Set for ${chosen.size === 1 ? 'one item' : `${chosen.size} items`}. Undo takes it back.`,
                  );
                }}
              >
                Set it for {chosen.size === 1 ? 'one item' : `${chosen.size} items`}
              </Button>
              <Button onClick={() => setOpen(false)}>Close</Button>
              <span role="status">
                {done ?? (count === 0 ? 'Choose what they are to have in common.' : '')}
              </span>
            </div>
            {setting.points !== undefined && !problems.points && (
              <p className="text-sm text-soft">
                {pointsText(toHundredths(setting.points) * chosen.size)} points in all.
              </p>
            )}
          </div>
        </section>
      )}
    </>
  );
}
