import { useCallback } from 'react';
import { AssessmentContent, type AssessmentDraft } from '@ecoute/contract/assessments';
import { check } from '@ecoute/contract/validation';
import type { Refusal } from '../../base/api';
import { Kept } from '../../base/kept/kept';
import { useKept } from '../../base/kept/useKept';
import { useSaveAssessmentMutation } from './endpoints';

const PAUSE_MS = 700;

/** What the contract says of a draft before the server is asked; null where nothing is wrong. */
function problem(content: AssessmentContent): Refusal | null {
  const { fields } = check(AssessmentContent, content);
  return fields ? { status: 0, code: 'invalid', message: 'A marked field needs mending.', fields } : null;
}

const ownFields = (refusal: Refusal | null): Record<string, string> =>
  Object.fromEntries(
    Object.entries(refusal?.fields ?? {}).map(([path, words]) => [path.replace(/^content\./, ''), words]),
  );

/** A draft that is saved as it is typed; another page's change in between is a conflict that the teacher settles. */
export function useAutosave(stored: AssessmentDraft) {
  const [save] = useSaveAssessmentMutation();
  const [{ value, state, refusal, theirs }, kept] = useKept<AssessmentContent>(
    `ecoute-draft-${stored.id}`,
    shelf =>
      new Kept({
        stored: { value: stored.content, revision: stored.revision },
        send: async (content, revision) => {
          const back = await save({ id: stored.id, revision, content }).unwrap();
          return { value: content, revision: back.revision };
        },
        theirs: ({ current }) => {
          const draft = current as AssessmentDraft | undefined;
          return draft ? { value: draft.content, revision: draft.revision } : null;
        },
        problem,
        shelf,
        pauseMs: PAUSE_MS,
      }),
  );
  const change = useCallback(
    (next: (content: AssessmentContent) => AssessmentContent) => kept.change(next(kept.now().value)),
    [kept],
  );
  return {
    content: value,
    change,
    state,
    /** What is wrong, by field; it stays marked while it is typed at, until it is looked at again. */
    fields: ownFields(refusal),
    refusal,
    theirs,
    settle: (keep: 'here' | 'stored') => void kept.settle(keep),
    flush: () => kept.flush(),
  };
}
