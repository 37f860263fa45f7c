import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { CEFR } from '@ecoute/core/scoring/scales';
import { fromHundredths, parsePoints, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import {
  isNumbered,
  reachable,
  rubricMaximum,
  schemeProblems,
  SCHEMES,
  type Scheme,
} from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, Rubric, Scoring } from '@ecoute/contract/assessments';
import { carriedPoints } from '@ecoute/contract/assessment/points';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Segments } from '../../../parts/Segments';
import { Tick } from '../../../parts/Tick';
import { RubricEditor } from './RubricEditor';
import { RubricShelf } from './RubricShelf';
import { isWritten, RubricSources } from './RubricSources';

const SCHEME_WORDS: Record<Scheme, { name: string; says: string }> = {
  none: { name: 'Not scored', says: 'You listen and comment; nobody sees a number.' },
  done: { name: 'Done or not', says: 'Each answer is done or not done; nothing is added up.' },
  points: { name: 'Points', says: 'You give each answer points, up to what its item carries.' },
  rubric: {
    name: 'Rubric',
    says: 'You choose a level on each criterion; the item’s points follow and can be adjusted.',
  },
  level: {
    name: 'Overall level',
    says: 'One level for the whole sitting, after hearing everything; no numbers.',
  },
};

function ScaleEditor({
  scoring,
  onChange,
}: {
  scoring: Scoring;
  onChange: (change: Partial<Scoring>) => void;
}) {
  const { scale } = scoring;
  const set = (n: number, change: Partial<Scoring['scale'][number]>) =>
    onChange({ scale: scale.map((l, i) => (i === n ? { ...l, ...change } : l)) });
  return (
    <div className="grid gap-2">
      <ol className="grid gap-2">
        {scale.map((level, n) => (
          <li key={n} className="grid gap-2 sm:grid-cols-[9rem_minmax(0,1fr)_auto]">
            <input
              aria-label={`Name of level ${n + 1}`}
              value={level.name}
              onChange={e => set(n, { name: e.target.value })}
              className={`${inputClass} font-semibold`}
            />
            <input
              aria-label={`What ${level.name || `level ${n + 1}`} means`}
              value={level.descriptor}
              onChange={e => set(n, { descriptor: e.target.value })}
              className={inputClass}
            />
            <Button
              aria-label={`Take out level ${n + 1}`}
              onClick={() => onChange({ scale: scale.filter((_, i) => i !== n) })}
            >
              Take out
            </Button>
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => onChange({ scale: [...scale, { name: '', descriptor: '' }] })}>
          Add a level
        </Button>
        <Button onClick={() => onChange({ scale: CEFR.map(l => ({ ...l })) })}>CEFR names again</Button>
      </div>
    </div>
  );
}

/** A pass mark as it is typed, in points or as a share; null where it is neither. */
function markOf(typed: string): Pick<Scoring, 'passMark' | 'passPercent'> | null {
  const share = /^(.+?)\s*%$/.exec(typed.trim());
  const hundredths = parsePoints(share ? share[1]! : typed);
  if (hundredths === null) return null;
  if (!share) return { passMark: fromHundredths(hundredths), passPercent: null };
  // What it makes in points follows from what can be reached.
  return hundredths > 10_000 ? null : { passMark: 0, passPercent: fromHundredths(hundredths) };
}

const NO_RUBRIC: Rubric = { levels: [], criteria: [] };

/** How answers are scored, and what a student can reach. Contradictions are said while they are made. */
export function ScoringEditor({
  assessmentId,
  content,
  fields,
  onChange,
  onCarry,
}: {
  assessmentId: string;
  content: AssessmentContent;
  fields: Record<string, string>;
  onChange: (change: Partial<Scoring>) => void;
  /** Lets every item carry these points. */
  onCarry: (points: number) => void;
}) {
  const { scoring } = content;
  const { kind, rubric } = scoring;
  const [typedMark, setTypedMark] = useState<string | null>(null);
  const percent = scoring.passPercent ?? null;
  const carried = carriedPoints(content);
  const problems = [
    ...schemeProblems(scoring, carried),
    ...Object.entries(fields).flatMap(([k, v]) => (k.startsWith('scoring.') ? [v] : [])),
  ];
  const total = reachable(kind, carried);
  const natural = kind === 'rubric' && rubric ? rubricMaximum(rubric) : null;
  return (
    <Collapsible.Root className="bg-sheet px-5 py-1">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        Scoring
        <span className="font-normal text-soft">
          {SCHEME_WORDS[kind].name.toLowerCase()}
          {kind === 'rubric' &&
            rubric &&
            `, ${rubric.criteria.length} ${rubric.criteria.length === 1 ? 'criterion' : 'criteria'}`}
          {total !== null && `, ${pointsText(total)} points to reach`}
          {scoring.passMark !== null &&
            total !== null &&
            `, ${pointsText(toHundredths(scoring.passMark))}${percent === null ? '' : ` (${percent} %)`} to pass`}
        </span>
        {problems[0] && <span className="font-semibold">▲ {problems[0]}</span>}
      </Collapsible.Trigger>
      <Collapsible.Content className="grid grid-cols-1 gap-5 pt-3 pb-5">
        <div>
          <Segments
            label="How answers are scored"
            value={kind}
            options={SCHEMES.map(scheme => ({ value: scheme, name: SCHEME_WORDS[scheme].name }))}
            onChange={scheme => onChange({ kind: scheme })}
          />
          <p className="mt-1 text-sm text-soft">{SCHEME_WORDS[kind].says}</p>
        </div>
        {problems.length > 0 && (
          <ul role="alert" className="grid gap-1 border-s-4 border-ink ps-4">
            {[...new Set(problems)].map(p => (
              <li key={p}>▲ {p}</li>
            ))}
          </ul>
        )}
        {kind === 'rubric' && (
          <>
            <RubricSources
              assessmentId={assessmentId}
              present={rubric}
              onTake={(taken, shown) => onChange({ rubric: taken, ...(shown !== undefined && { shown }) })}
            />
            <RubricEditor
              rubric={rubric ?? NO_RUBRIC}
              onChange={changed => onChange({ rubric: changed })}
              isBlank={rubric === null}
            />
            {isWritten(rubric) && <RubricShelf rubric={rubric!} shown={scoring.shown} />}
            {natural !== null && natural > 0 && carried.some(p => toHundredths(p) !== natural) && (
              <p className="flex flex-wrap items-center gap-3 text-sm">
                By itself the rubric makes {pointsText(natural)} points; each item turns it into the points it
                carries.
                <Button onClick={() => onCarry(fromHundredths(natural))}>
                  Let every item carry {pointsText(natural)}
                </Button>
              </p>
            )}
          </>
        )}
        {kind === 'level' && <ScaleEditor scoring={scoring} onChange={onChange} />}
        <div className="flex flex-wrap items-start gap-x-8 gap-y-3">
          {(kind === 'rubric' || kind === 'level') && (
            <Tick checked={scoring.shown} onChange={shown => onChange({ shown })}>
              Students read {kind === 'rubric' ? 'the rubric' : 'the scale'} before and after
            </Tick>
          )}
          {isNumbered(kind) && (
            <Field
              label="Pass mark"
              hint={
                total === null
                  ? undefined
                  : percent !== null && scoring.passMark !== null
                    ? `${pointsText(toHundredths(scoring.passMark))} of ${pointsText(total)} points to reach; it follows them.`
                    : `Of ${pointsText(total)} points to reach, or as a share: 60 %. Leave it empty for none.`
              }
              error={
                typedMark !== null && typedMark.trim() && markOf(typedMark) === null
                  ? 'Type points such as 12 or 12.5, a share such as 60 %, or leave it empty.'
                  : null
              }
            >
              {ties => (
                <input
                  {...ties}
                  inputMode="decimal"
                  className={`${inputClass} tabular !w-28`}
                  value={
                    typedMark ??
                    (percent !== null
                      ? `${percent} %`
                      : scoring.passMark === null
                        ? ''
                        : pointsText(toHundredths(scoring.passMark)))
                  }
                  onChange={e => {
                    setTypedMark(e.target.value);
                    const mark = markOf(e.target.value);
                    if (!e.target.value.trim()) onChange({ passMark: null, passPercent: null });
                    else if (mark) onChange(mark);
                  }}
                  onBlur={() => setTypedMark(null)}
                />
              )}
            </Field>
          )}
        </div>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
