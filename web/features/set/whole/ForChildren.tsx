import { Collapsible } from 'radix-ui';
import { ChevronDown } from 'lucide-react';
import { sentenceOf, SPOKEN_WORDS, spokenLanguage, type SpokenWord } from '@ecoute/core/voice/spokenWords';
import type { AssessmentContent, Voice } from '@ecoute/contract/assessments';
import { Tick } from '../../../parts/Tick';
import { VoiceSlot } from '../items/VoiceSlot';

/** For children who do not read yet: whether it is met in pictures and sound, and the sentences that lead them. */
export function ForChildren({
  assessmentId,
  content,
  onChange,
}: {
  assessmentId: string;
  content: AssessmentContent;
  onChange: (change: Partial<AssessmentContent>) => void;
}) {
  const isByEar = content.byEar ?? false;
  const spoken = content.spokenWords ?? [];
  const language = spokenLanguage(content.screenLanguage) ?? 'en';
  const own = new Map(spoken.map(s => [s.word, s.voice]));
  const keep = (word: SpokenWord, voice: Voice | null) =>
    onChange({
      spokenWords: [...spoken.filter(s => s.word !== word), ...(voice ? [{ word, voice }] : [])],
    });
  const helped = content.items.filter(i => i.answerBy !== 'audio' && i.answerBy !== 'nothing').length;
  return (
    <div className="grid gap-1">
      <Tick checked={isByEar} onChange={byEar => onChange({ byEar })}>
        For children who do not read yet: pictures and sound, one big thing at a time
      </Tick>
      {isByEar && helped > 0 && (
        <p className="text-sm">
          {helped === 1 ? 'One item is' : `${helped} items are`} not spoken: there a grown-up has to help.
        </p>
      )}
      {(isByEar || spoken.length > 0) && (
        <Collapsible.Root>
          <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
            <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
            What leads the child, in your own voice
            <span className="font-normal text-soft">
              {spoken.length === 0 ? 'none' : `${spoken.length} of ${SPOKEN_WORDS.length}`}
            </span>
          </Collapsible.Trigger>
          <Collapsible.Content>
            <p className="text-sm text-soft">
              What you do not record is said by a voice of the device, or by Ecoute’s where it has none.
            </p>
            <ol className="mt-2 grid gap-4">
              {SPOKEN_WORDS.map((word, n) => (
                <li key={word} className="border-s-4 border-line ps-4">
                  <p>
                    <span className="font-semibold">{n + 1}</span>{' '}
                    <span lang={language}>{sentenceOf(word, language)}</span>
                  </p>
                  <VoiceSlot
                    assessmentId={assessmentId}
                    place={`${assessmentId} says ${word}`}
                    what={`sentence ${n + 1}`}
                    title="A sentence that leads"
                    voice={own.get(word) ?? null}
                    onChange={voice => keep(word, voice)}
                  />
                </li>
              ))}
            </ol>
          </Collapsible.Content>
        </Collapsible.Root>
      )}
    </div>
  );
}
