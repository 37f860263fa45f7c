import { useState } from 'react';
import { FIGURES_FOR, type FiguresFor, type Markbook } from '@ecoute/contract/results';
import { refusalOf } from '../../../base/api';
import { Dialogue, KeepOrLeave } from '../../../parts/Dialogue';
import { useSaveRuleMutation } from '../endpoints';
import { ruleWords } from './narrowed';

const COORDINATORS: Record<FiguresFor, string> = {
  nobody: 'nothing',
  class: 'figures of the class as a whole, of at least five students, without names',
  students: 'each student’s scores by name',
};

function Choice({
  name,
  checked,
  onChoose,
  children,
}: {
  name: string;
  checked: boolean;
  onChoose: () => void;
  children: string;
}) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <input
        type="radio"
        name={name}
        checked={checked}
        onChange={onChoose}
        className="size-5 shrink-0 accent-ink"
      />
      {children}
    </label>
  );
}

/** By which rule a class's marks are added up, and who else sees it. */
export function RuleDialog({ book, onClose }: { book: Markbook; onClose: () => void }) {
  const [missingCounts, setMissingCounts] = useState(book.missingCounts);
  const [figuresFor, setFiguresFor] = useState(book.figuresFor);
  const [save, saving] = useSaveRuleMutation();
  return (
    <Dialogue title="How it adds up" says={ruleWords({ missingCounts })} onClose={onClose}>
      <form
        className="mt-4 grid gap-4"
        onSubmit={event => {
          event.preventDefault();
          save({ classId: book.classId, missingCounts, figuresFor })
            .unwrap()
            .then(onClose, () => undefined);
        }}
      >
        <fieldset>
          <legend className="font-semibold">What is missing</legend>
          <Choice name="missing" checked={!missingCounts} onChoose={() => setMissingCounts(false)}>
            is left out of averages
          </Choice>
          <Choice name="missing" checked={missingCounts} onChoose={() => setMissingCounts(true)}>
            counts as none of its points
          </Choice>
        </fieldset>
        <fieldset>
          <legend className="font-semibold">Coordinators of this class see</legend>
          {FIGURES_FOR.map(f => (
            <Choice key={f} name="figures" checked={figuresFor === f} onChoose={() => setFiguresFor(f)}>
              {COORDINATORS[f]}
            </Choice>
          ))}
          <p className="text-sm text-soft">They never hear a recording, and read no comment.</p>
        </fieldset>
        <p className="text-sm text-soft">Both hold for every teacher of the class.</p>
        {saving.error && (
          <p role="alert" className="font-semibold">
            {refusalOf(saving.error)?.message ?? 'This is not kept. Try again.'}
          </p>
        )}
        <KeepOrLeave isBusy={saving.isLoading} onLeave={onClose} />
      </form>
    </Dialogue>
  );
}
