import { useState } from 'react';
import type { AssessmentContent, DiscussionPlan, Item } from '@ecoute/contract/assessments';
import { talkOf } from '@ecoute/contract/assessment/discussion';
import { LIMITS } from '@ecoute/contract/limits';
import { CIRCLES } from '@ecoute/core/discussions/circles';
import { Field, inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import { LengthInput } from '../items/LengthInput';
import { CIRCLE_WORDS, dueWords } from './words';

const COUNTS = [0, 1, 2, 3, 4, 5, 6, 8, 10, 15, 20];
const DAYS = [0, 1, 2, 3, 4, 5, 7, 10, 14, 21, 28];
const SIZES = [2, 3, 4, 5, 6, 8, 10];

/** What is asked of everybody in a discussion, how it is spoken, and who hears whom. */
export function DiscussionEditor({
  content,
  plan,
  fields,
  onPlan,
  onTalk,
}: {
  content: AssessmentContent;
  plan: DiscussionPlan;
  fields: Record<string, string>;
  onPlan: (change: Partial<DiscussionPlan>) => void;
  onTalk: (change: Partial<Item>) => void;
}) {
  const [typing, setTyping] = useState<string | null>(null);
  const talk = talkOf(content);
  const number = (
    name: 'contributionsAsked' | 'repliesAsked' | 'contributeDaysBefore' | 'circleSize',
    label: string,
    options: readonly number[],
    words: (n: number) => string,
    hint?: string,
  ) => (
    <Field label={label} hint={hint} error={fields[`discussion.${name}`]}>
      {ties => (
        <select
          {...ties}
          className={inputClass}
          value={plan[name]}
          onChange={e => onPlan({ [name]: Number(e.target.value) })}
        >
          {[...new Set([...options, plan[name]])]
            .sort((a, b) => a - b)
            .map(n => (
              <option key={n} value={n}>
                {words(n)}
              </option>
            ))}
        </select>
      )}
    </Field>
  );
  const tick = (name: 'hearsAfter' | 'namesShown' | 'ownSubjects' | 'moderated', words: string) => (
    <Tick checked={plan[name]} onChange={checked => onPlan({ [name]: checked })}>
      {words}
    </Tick>
  );
  const counted = (n: number) => (n === 0 ? 'none asked for' : String(n));
  return (
    <section
      aria-label="What is asked of everybody"
      className="grid gap-x-8 gap-y-5 bg-sheet px-5 py-4 md:grid-cols-2 xl:grid-cols-4"
    >
      <div className="grid content-start gap-3">
        <h2 className="text-lg font-semibold">What is asked of everybody</h2>
        <div className="grid grid-cols-2 gap-3">
          {number('contributionsAsked', 'Contributions', COUNTS, counted)}
          {number('repliesAsked', 'Replies to others', COUNTS, counted)}
        </div>
        {number('contributeDaysBefore', 'Contributions are due', DAYS, dueWords)}
        <p className="text-sm text-soft">
          The score stays yours: what was given is counted for you, never scored.
        </p>
      </div>
      <div className="grid content-start gap-3">
        <h2 className="text-lg font-semibold">How it is said</h2>
        {talk && (
          <>
            <Field label="A contribution is at most" error={typing}>
              {ties => (
                <LengthInput
                  {...ties}
                  valueMs={talk.answerLimitMs}
                  leastMs={5_000}
                  mostMs={LIMITS.contributionMs}
                  onProblem={setTyping}
                  onChange={answerLimitMs => onTalk({ answerLimitMs })}
                />
              )}
            </Field>
            <Field label="People speak">
              {ties => (
                <select
                  {...ties}
                  className={inputClass}
                  value={talk.answerBy === 'video' ? 'film' : plan.pictureAllowed ? 'picture' : 'voice'}
                  onChange={e => {
                    onTalk({ answerBy: e.target.value === 'film' ? 'video' : 'audio' });
                    onPlan({ pictureAllowed: e.target.value === 'picture' });
                  }}
                >
                  <option value="voice">by voice</option>
                  <option value="picture">by voice; a picture may go with it</option>
                  <option value="film">with the camera</option>
                </select>
              )}
            </Field>
          </>
        )}
        <Tick checked={plan.writtenAllowed} onChange={writtenAllowed => onPlan({ writtenAllowed })}>
          Writing instead counts as well
        </Tick>
        <p className="text-sm text-soft">References and notes may always stand beside what is said.</p>
      </div>
      <div className="grid content-start gap-1">
        <h2 className="mb-2 text-lg font-semibold">How it goes on</h2>
        {tick('ownSubjects', 'Students may begin threads of their own')}
        {tick('namesShown', 'Students see who speaks')}
        {tick('hearsAfter', 'Others are heard once one has contributed')}
        {tick('moderated', 'You hear each contribution before others do')}
      </div>
      <div className="grid content-start gap-3">
        <h2 className="text-lg font-semibold">Who talks with whom</h2>
        <Field label="Whoever it is released to talks" hint={CIRCLE_WORDS[plan.circles].says}>
          {ties => (
            <select
              {...ties}
              className={inputClass}
              value={plan.circles}
              onChange={e => onPlan({ circles: e.target.value as DiscussionPlan['circles'] })}
            >
              {CIRCLES.map(by => (
                <option key={by} value={by}>
                  {CIRCLE_WORDS[by].name}
                </option>
              ))}
            </select>
          )}
        </Field>
        {plan.circles === 'lot' &&
          number('circleSize', 'In each circle', SIZES, n => (n === 2 ? '2: pairs' : String(n)))}
      </div>
    </section>
  );
}
