import { Copy, FolderPlus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { takeLengthMs } from '@ecoute/core/timing/conversation';
import type { Item, Turn } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { parsePoints, fromHundredths, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import {
  differences,
  policiesOf,
  timeProblems,
  type PolicyName,
  type StartingPoint,
} from '@ecoute/core/timing/startingPoints';
import { isNumbered, type Scheme } from '@ecoute/core/scoring/scheme';
import { hasTakes, isInTurns, isRecorded, type AnswerBy } from '@ecoute/core/timing/strip';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Tick } from '../../../parts/Tick';
import { ANSWERED } from './answered';
import { ConversationEditor } from './ConversationEditor';
import { ItemHelps } from './ItemHelps';
import { MusicEditor } from './MusicEditor';
import { LengthInput } from './LengthInput';
import { POINT_WORDS, policyInWords } from '../whole/policyWords';
import { RichEditor } from '../material/RichEditor';
import { stimulusErrors } from '../material/stimuli';
import { StimuliEditor } from '../material/StimuliEditor';
import { TogetherChoice } from './TogetherChoice';
import { SheetChoice } from './SheetChoice';
import { VoiceSlot } from './VoiceSlot';

function PointsInput({
  value,
  onChange,
  onProblem,
  ...ties
}: {
  value: number;
  onChange: (points: number) => void;
  onProblem: (p: string | null) => void;
  id: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      {...ties}
      inputMode="decimal"
      className={`${inputClass} tabular`}
      value={typed ?? pointsText(toHundredths(value))}
      onChange={e => {
        setTyped(e.target.value);
        const hundredths = parsePoints(e.target.value);
        onProblem(hundredths === null ? 'Type points such as 5 or 2.5.' : null);
        if (hundredths !== null) onChange(fromHundredths(hundredths));
      }}
      onBlur={() => {
        setTyped(null);
        onProblem(null);
      }}
    />
  );
}

/** The answer limit of a conversation is its run. */
function limitFor(turns: readonly Turn[]): number {
  return Math.max(LIMITS.shortestAnswerLimitMs, Math.min(LIMITS.answerMs, takeLengthMs(turns)));
}

/** Everything about one item, open in its place in the list. */
export function ItemEditor({
  assessmentId,
  item,
  point,
  scheme,
  problems,
  isFresh,
  onChange,
  onRemove,
  onCopy,
  onSection,
}: {
  assessmentId: string;
  item: Item;
  point: StartingPoint;
  scheme: Scheme;
  /** What the contract says of this item's fields, by field name. */
  problems: Record<string, string>;
  /** It was just added: one types its prompt next. */
  isFresh: boolean;
  onChange: (change: Partial<Item>) => void;
  onRemove: () => void;
  onCopy: () => void;
  /** Begins a section with this item; undefined where one begins here already. */
  onSection?: () => void;
}) {
  const [typing, setTyping] = useState<Record<string, string | null>>({});
  const report = (name: string) => (problem: string | null) => setTyping(t => ({ ...t, [name]: problem }));
  const contradictions = timeProblems(item);
  const problem = (name: string) =>
    typing[name] ?? problems[name] ?? contradictions[name as PolicyName] ?? null;
  const differs = new Set(differences(item, point));
  const standard = policiesOf(point);
  /** Where a policy differs from the starting point: what that says, and the way back. */
  const unlike = (name: PolicyName) =>
    differs.has(name) && (
      <button
        type="button"
        onClick={() => onChange({ [name]: standard[name] })}
        className="text-start text-saffron-ink underline underline-offset-4"
      >
        <span className="sr-only">Set back to </span>
        {POINT_WORDS[point].name}: {policyInWords(name, standard)}
      </button>
    );
  const length = (name: 'prepareMs' | 'answerLimitMs' | 'shortestAnswerMs', label: string, most: number) => (
    <Field label={label} error={problem(name)} hint={unlike(name)}>
      {ties => (
        <LengthInput
          {...ties}
          valueMs={item[name]}
          leastMs={name === 'answerLimitMs' ? LIMITS.shortestAnswerLimitMs : 0}
          mostMs={most}
          onProblem={report(name)}
          onChange={ms => onChange({ [name]: ms })}
        />
      )}
    </Field>
  );
  const count = (name: 'takesAllowed' | 'hearingsAllowed', label: string, none: string) => (
    <Field label={label} error={problem(name)} hint={unlike(name)}>
      {ties => (
        <select
          {...ties}
          className={inputClass}
          value={item[name]}
          onChange={e => onChange({ [name]: Number(e.target.value) })}
        >
          {[...new Set([1, 2, 3, 4, 5, 10, item[name]])]
            .filter(n => n > 0)
            .sort((a, b) => a - b)
            .map(n => (
              <option key={n} value={n}>
                {n === 1 ? (name === 'takesAllowed' ? 'one only' : 'once') : n}
              </option>
            ))}
          <option value={0}>{none}</option>
        </select>
      )}
    </Field>
  );
  const tick = (name: 'required' | 'passAllowed' | 'pauseAllowed' | 'trimAllowed', label: string) => (
    <div>
      <Tick checked={item[name]} onChange={checked => onChange({ [name]: checked })}>
        {label}
      </Tick>
      {differs.has(name) && <p className="ps-8 text-sm">{unlike(name)}</p>}
    </div>
  );
  const inDiscussion = point === 'discussion';
  const recorded = isRecorded(item.answerBy);
  const conversing = item.answerBy === 'audio' && item.isConversation;
  const answered = item.answerBy !== 'nothing';
  const inTurns = isInTurns(item);
  const numbered = isNumbered(scheme);
  const byRubric = scheme === 'rubric';
  return (
    <div className="grid gap-6 border-t border-line px-5 pt-5 pb-6 lg:grid-cols-[minmax(0,1fr)_23rem]">
      <div className="grid content-start gap-4">
        <RichEditor
          assessmentId={assessmentId}
          place={item.id}
          label={
            inDiscussion ? (item.answerBy === 'nothing' ? 'Your words on it' : 'The question') : 'Prompt'
          }
          hint={
            inDiscussion
              ? item.answerBy === 'nothing'
                ? 'A page, a picture, a film, a sound or a question at which a thread can begin.'
                : 'What people talk about. May stay empty when you speak it.'
              : 'What the student reads. May stay empty when you speak it.'
          }
          error={problem('promptText') ?? problem('promptRich')}
          plain={item.promptText}
          doc={item.promptRich}
          big
          isFresh={isFresh}
          onChange={({ plain, doc }) => onChange({ promptText: plain, promptRich: doc })}
        />
        <VoiceSlot
          assessmentId={assessmentId}
          place={item.id}
          what={inDiscussion ? (answered ? 'question' : 'introduction') : 'prompt'}
          title={item.promptText.slice(0, 60) || 'Prompt'}
          voice={
            item.promptRecordingId
              ? {
                  recordingId: item.promptRecordingId,
                  durationMs: item.promptDurationMs ?? 0,
                  isVideo: item.promptIsVideo,
                }
              : null
          }
          onChange={voice =>
            onChange({
              promptRecordingId: voice?.recordingId ?? null,
              promptDurationMs: voice?.durationMs ?? null,
              promptIsVideo: voice?.isVideo ?? false,
            })
          }
        />
        {problem('promptRecordingId') && (
          <p role="alert" className="font-semibold">
            ▲ {problem('promptRecordingId')}
          </p>
        )}
        <StimuliEditor
          assessmentId={assessmentId}
          place={item.id}
          what="prompt"
          stimuli={item.stimuli}
          errors={stimulusErrors(problems)}
          onChange={next => onChange({ stimuli: next(item.stimuli) })}
        />
        {conversing && (
          <ConversationEditor
            assessmentId={assessmentId}
            item={item}
            onChange={turns => onChange({ turns, answerLimitMs: limitFor(turns) })}
          />
        )}
        {Object.entries(problems)
          .filter(([name]) => name === 'turns')
          .map(([name, words]) => (
            <p key={name} role="alert" className="font-semibold">
              ▲ {words}
            </p>
          ))}
        {recorded && !conversing && !inDiscussion && !inTurns && (
          <MusicEditor assessmentId={assessmentId} item={item} problem={problem} onChange={onChange} />
        )}
        {!inDiscussion && (
          <ItemHelps assessmentId={assessmentId} item={item} problem={problem} onChange={onChange} />
        )}
      </div>
      <div className="grid content-start gap-4">
        <div className="grid grid-cols-2 items-start gap-x-4 gap-y-3">
          {!inDiscussion && (
            <Field label="Answered" className="col-span-2">
              {ties => (
                <select
                  {...ties}
                  className={inputClass}
                  value={item.answerBy === 'audio' && item.isConversation ? 'conversation' : item.answerBy}
                  onChange={e =>
                    onChange(
                      e.target.value === 'conversation'
                        ? { answerBy: 'audio', isConversation: true }
                        : { answerBy: e.target.value as AnswerBy, isConversation: false },
                    )
                  }
                >
                  {Object.entries(ANSWERED).map(([by, words]) => (
                    <option key={by} value={by}>
                      {words}
                    </option>
                  ))}
                  <option value="conversation">in a conversation, turn by turn</option>
                </select>
              )}
            </Field>
          )}
          {!inDiscussion && item.answerBy === 'audio' && <TogetherChoice item={item} onChange={onChange} />}
          {!inDiscussion && recorded && !inTurns && length('prepareMs', 'Time to prepare', LIMITS.prepareMs)}
          {answered &&
            !conversing &&
            !inDiscussion &&
            length(
              'answerLimitMs',
              inTurns ? 'Longest turn' : recorded ? 'Answer limit' : 'Time planned for it',
              LIMITS.answerMs,
            )}
          {recorded &&
            !conversing &&
            !inDiscussion &&
            !inTurns &&
            length('shortestAnswerMs', 'Shortest answer', LIMITS.answerMs)}
          {!inDiscussion && hasTakes(item.answerBy) && count('takesAllowed', 'Takes', 'no limit')}
          {!inDiscussion &&
            item.promptRecordingId &&
            count('hearingsAllowed', 'Prompt is heard', 'without limit')}
          {recorded && !inDiscussion && !inTurns && (
            <Field label="Answer begins" className="col-span-2" hint={unlike('startsBy')}>
              {ties => (
                <select
                  {...ties}
                  className={inputClass}
                  value={item.startsBy}
                  onChange={e => onChange({ startsBy: e.target.value as Item['startsBy'] })}
                >
                  <option value="student">when the student says so</option>
                  <option value="itself">automatically, after a beep</option>
                </select>
              )}
            </Field>
          )}
          {answered && numbered && (
            <Field label={byRubric ? 'Points carried' : 'Points'} error={problem('points')}>
              {ties => (
                <PointsInput
                  {...ties}
                  value={item.points}
                  onProblem={report('points')}
                  onChange={points => onChange({ points })}
                />
              )}
            </Field>
          )}
        </div>
        {answered && !inDiscussion && (
          <div className="grid gap-1">
            {tick('required', 'Must be answered')}
            {tick('passAllowed', 'May be passed on; that counts as an answer')}
            {recorded && !conversing && !inTurns && tick('pauseAllowed', 'May pause while recording')}
            {item.answerBy === 'audio' &&
              !conversing &&
              !inTurns &&
              tick('trimAllowed', 'May cut silence off a take before handing in')}
            {item.answerBy === 'audio' && !conversing && !inTurns && (
              <SheetChoice item={item} onChange={onChange} />
            )}
          </div>
        )}
        <div className="flex flex-wrap gap-3">
          {!(inDiscussion && answered) && (
            <>
              <Button onClick={onCopy}>
                <Copy aria-hidden className="size-5" /> Copy
              </Button>
              <Button onClick={onRemove}>
                <Trash2 aria-hidden className="size-5" /> Take out
              </Button>
            </>
          )}
          {onSection && !inDiscussion && (
            <Button onClick={onSection}>
              <FolderPlus aria-hidden className="size-5" /> Begin a section here
            </Button>
          )}
        </div>
      </div>
    </div>
  );
}
