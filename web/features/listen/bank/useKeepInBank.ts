import { useRef, useState } from 'react';
import { forBank } from '@ecoute/core/feedback/comments';
import type { Lane } from '@ecoute/contract/marking';
import { refusalOf } from '../../../base/api';
import { useMe } from '../../../base/useMe';
import { useKeepInBankMutation } from './endpoints';

/** Where comments go that are kept while listening, until another topic was chosen. */
const FIRST_TOPIC = 'While listening';

/** What became of a comment that was to be kept. */
export type Keeping =
  | { kind: 'kept'; words: string; topicId: string; commentId: string; newTopic: boolean }
  | { kind: 'known'; words: string; topicId: string }
  | { kind: 'trouble'; message: string };

/** Keeps what was just written on a lane in the comment bank, under the topic that was chosen last. */
export function useKeepInBank() {
  const me = useMe();
  const place = `ecoute-bank-topic ${me.id}`;
  const [keep] = useKeepInBankMutation();
  const [keeping, setKeeping] = useState<Keeping | null>(null);
  const before = useRef<{ words: string; ended: Promise<void> } | null>(null);
  return {
    keeping,
    done: () => setKeeping(null),
    /** The topic for this one and the next. */
    remember: (topic: string) => localStorage.setItem(place, topic),
    /** @param words as they stand on the lane; the student's name in them becomes a placeholder */
    keep: async (lane: Lane, words: string): Promise<void> => {
      const said = forBank(words, lane.studentCalled);
      if (said === '')
        return setKeeping({
          kind: 'trouble',
          message: 'Write the comment first; then A keeps it in the bank.',
        });
      // Pressed twice or held down, it is one: the second answer would hide the first one's undo. Other words have their turn.
      if (before.current?.words === said) return;
      const ended = (before.current?.ended ?? Promise.resolve()).then(() => store(said));
      const mine = { words: said, ended };
      before.current = mine;
      await ended;
      if (before.current === mine) before.current = null;
    },
  };

  async function store(words: string): Promise<void> {
    try {
      const topic = localStorage.getItem(place) ?? FIRST_TOPIC;
      const { known, topicId, commentId, newTopic } = await keep({ topic, words, link: '' }).unwrap();
      setKeeping(
        known ? { kind: 'known', words, topicId } : { kind: 'kept', words, topicId, commentId, newTopic },
      );
    } catch (error) {
      const message = refusalOf(error)?.message ?? 'Try again.';
      setKeeping({ kind: 'trouble', message: `This is not in the bank yet. ${message}` });
    }
  }
}
