import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import {
  sittingDifferences,
  sittingPoliciesOf,
  type SittingPolicies,
} from '@ecoute/core/timing/startingPoints';
import { clock } from '@ecoute/core/timing/words';
import type { AssessmentContent, EvidenceOpens } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { Field, inputClass } from '../../../parts/Field';
import { Segments } from '../../../parts/Segments';
import { Tick } from '../../../parts/Tick';
import { LengthInput } from '../items/LengthInput';
import { POINT_WORDS, sittingPolicyInWords } from './policyWords';
import { OtherDirectionsEditor } from './OtherDirectionsEditor';
import { ScreenLanguageChoice } from './ScreenLanguageChoice';
import { ForChildren } from './ForChildren';
import { SelfAssessmentChoice } from './SelfAssessmentChoice';
import { stimulusErrors } from '../material/stimuli';
import { StimuliEditor } from '../material/StimuliEditor';
import { TagPicker } from '../items/TagPicker';

const FIRST_LIMIT_MS = 20 * 60_000;

/** What holds for the whole assessment: the limit of a sitting, what comes after the answer. */
export function WholeEditor({
  assessmentId,
  content,
  fields,
  onChange,
}: {
  assessmentId: string;
  content: AssessmentContent;
  fields: Record<string, string>;
  onChange: (change: Partial<AssessmentContent>) => void;
}) {
  const [typing, setTyping] = useState<string | null>(null);
  const point = content.startingPoint;
  const isTalk = point === 'discussion';
  const standard = sittingPoliciesOf(point);
  const differs = sittingDifferences(content, point);
  /** Where a policy differs from the starting point: what that says, and the way back. */
  const unlike = (name: keyof SittingPolicies) =>
    differs.includes(name) && (
      <button
        type="button"
        onClick={() => onChange({ [name]: standard[name] })}
        className="text-start text-sm text-saffron-ink underline underline-offset-4"
      >
        <span className="sr-only">Set back to </span>
        {POINT_WORDS[point].name}: {sittingPolicyInWords(name, standard)}
      </button>
    );
  const set = [
    differs.length > 0 &&
      !isTalk &&
      `${differs.length === 1 ? 'one setting differs' : `${differs.length} settings differ`} from ${POINT_WORDS[point].name.toLowerCase()}`,
    content.sittingLimitMs !== null && `a limit of ${clock(content.sittingLimitMs)}`,
    content.closingWords.trim() && 'closing words',
    content.stimuli.length > 0 && 'things to look at',
    content.selfAssessment !== 'none' && 'self-assessment',
    content.otherDirections.length > 0 && 'directions in other languages',
    (content.screenLanguage || content.recorderWords) && 'language of the screens',
    content.tags.length > 0 && 'tags',
  ].filter(Boolean);
  return (
    <Collapsible.Root className="bg-sheet px-5 py-1">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        {isTalk ? 'The whole discussion' : 'The whole sitting'}
        <span className="font-normal text-soft">
          {set.length
            ? set.join(', ')
            : isTalk
              ? 'self-assessment, language, what is measured, tags'
              : 'a limit, self-assessment, language, words at the end, tags'}
        </span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-6 pt-3 pb-5 lg:grid-cols-3">
        <div className="grid content-start gap-2">
          <p className="text-sm font-semibold">To look at with the directions</p>
          <StimuliEditor
            assessmentId={assessmentId}
            place={assessmentId}
            what="directions"
            stimuli={content.stimuli}
            errors={stimulusErrors(fields)}
            onChange={next => onChange({ stimuli: next(content.stimuli) })}
          />
        </div>
        <div className="grid content-start gap-2">
          {!isTalk && (
            <>
              <Tick
                checked={content.sittingLimitMs !== null}
                onChange={on => onChange({ sittingLimitMs: on ? FIRST_LIMIT_MS : null })}
              >
                The whole sitting has a limit
              </Tick>
              {content.sittingLimitMs !== null && (
                <Field
                  label="Limit of the sitting"
                  hint="From the first sight of the items. When it is over, what was recorded is handed in automatically."
                  error={typing ?? fields['sittingLimitMs']}
                >
                  {ties => (
                    <LengthInput
                      {...ties}
                      valueMs={content.sittingLimitMs!}
                      leastMs={30_000}
                      mostMs={LIMITS.sittingMs}
                      onProblem={setTyping}
                      onChange={sittingLimitMs => onChange({ sittingLimitMs })}
                    />
                  )}
                </Field>
              )}
              <Segments
                label="How students meet the items"
                value={content.layout}
                options={[
                  { value: 'one', name: 'one at a time' },
                  { value: 'all', name: 'all on a page' },
                ]}
                onChange={layout => onChange({ layout })}
              />
              <Tick checked={content.mayBring} onChange={mayBring => onChange({ mayBring })}>
                A recording may be brought as a file
              </Tick>
              {differs.includes('mayBring') && <p className="ps-8">{unlike('mayBring')}</p>}
              <Tick checked={content.mayWithdraw} onChange={mayWithdraw => onChange({ mayWithdraw })}>
                What is handed in may be taken back until it is due
              </Tick>
              {differs.includes('mayWithdraw') && <p className="ps-8">{unlike('mayWithdraw')}</p>}
              <Tick checked={content.endTone ?? false} onChange={endTone => onChange({ endTone })}>
                A short tone when the time of an answer is nearly over (without headphones it is in the
                recording)
              </Tick>
              <ForChildren assessmentId={assessmentId} content={content} onChange={onChange} />
            </>
          )}
          <SelfAssessmentChoice
            value={content.selfAssessment}
            onChange={selfAssessment => onChange({ selfAssessment })}
          />
        </div>
        <div className="grid content-start gap-3">
          {!isTalk && (
            <>
              <Field label="Closing words" hint="Read after the hand-in." error={fields['closingWords']}>
                {ties => (
                  <textarea
                    {...ties}
                    rows={2}
                    value={content.closingWords}
                    onChange={e => onChange({ closingWords: e.target.value })}
                    className={inputClass}
                  />
                )}
              </Field>
              <Field label="Model answers open" hint={unlike('modelOpens')}>
                {ties => (
                  <select
                    {...ties}
                    className={inputClass}
                    value={content.modelOpens}
                    onChange={e =>
                      onChange({ modelOpens: e.target.value as AssessmentContent['modelOpens'] })
                    }
                  >
                    <option value="afterReturn">with the feedback</option>
                    <option value="afterHandIn">after the hand-in</option>
                    <option value="atOnce">from the beginning, as a target</option>
                  </select>
                )}
              </Field>
            </>
          )}
          <Field
            label="Students see what is measured"
            hint={
              <>
                Pauses, rates, notes in cents and milliseconds, of their own takes only. While they practise:
                the target to hear and a tuner as well. {unlike('evidenceOpens')}
              </>
            }
          >
            {ties => (
              <select
                {...ties}
                className={inputClass}
                value={content.evidenceOpens}
                onChange={e => onChange({ evidenceOpens: e.target.value as EvidenceOpens })}
              >
                <option value="never">never</option>
                <option value="afterReturn">with the feedback</option>
                <option value="atOnce">as soon as they have recorded</option>
              </select>
            )}
          </Field>
          <OtherDirectionsEditor
            assessmentId={assessmentId}
            value={content.otherDirections}
            fields={fields}
            onChange={otherDirections => onChange({ otherDirections })}
          />
          <ScreenLanguageChoice content={content} onChange={onChange} />
          <TagPicker what="the whole" tags={content.tags} onChange={tags => onChange({ tags })} />
        </div>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
