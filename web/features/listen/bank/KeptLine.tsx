import { useEffect } from 'react';
import { Button } from '../../../parts/Button';
import {
  useBankQuery,
  useChangeTopicMutation,
  useRemoveBankCommentMutation,
  useRemoveTopicMutation,
} from './endpoints';
import type { Keeping } from './useKeepInBank';

const SHOWN_MS = 12_000;

/** What became of a comment that was to be kept in the bank, in a line: under which topic it is, another one, and its undo. */
export function KeptLine({
  keeping,
  onTopic,
  onDone,
}: {
  keeping: Keeping;
  onTopic: (name: string) => void;
  onDone: () => void;
}) {
  const { data: topics = [] } = useBankQuery();
  const [change] = useChangeTopicMutation();
  const [remove] = useRemoveBankCommentMutation();
  const [removeTopic] = useRemoveTopicMutation();
  useEffect(() => {
    const timer = setTimeout(onDone, SHOWN_MS);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- as long as this one is shown
  }, [keeping]);
  if (keeping.kind === 'trouble')
    return (
      <p role="alert" className="min-w-0 truncate font-semibold" title={keeping.message}>
        ▲ {keeping.message}
      </p>
    );
  const id = keeping.kind === 'kept' ? keeping.commentId : null;
  const topic = topics.find(t => (id ? t.comments.some(c => c.id === id) : t.id === keeping.topicId));
  if (id === null)
    return (
      <p role="status" className="min-w-0 truncate font-semibold">
        In the bank already, under “{topic?.name}”
      </p>
    );
  const undo = async () => {
    const gone = await remove({ topicId: topic?.id ?? keeping.topicId, id })
      .unwrap()
      .catch(() => null);
    if (!gone) return;
    // A topic that was made for it goes along, unless something else is in it by now.
    if (keeping.kind === 'kept' && keeping.newTopic)
      if (gone.find(t => t.id === keeping.topicId)?.comments.length === 0) void removeTopic(keeping.topicId);
    onDone();
  };
  return (
    <>
      <p role="status" title={keeping.words} className="min-w-0 truncate font-semibold">
        In the bank<span className="max-sm:hidden">: “{keeping.words}”</span>
      </p>
      <select
        aria-label="Topic it is kept under"
        value={topic?.id ?? ''}
        onChange={event => {
          const other = topics.find(t => t.id === event.target.value);
          if (!other) return;
          onTopic(other.name);
          void change({ id: other.id, name: other.name, order: [...other.comments.map(c => c.id), id] });
        }}
        className="min-h-10 max-w-44 min-w-0 border-2 border-edge bg-sheet px-2"
      >
        {topics
          .filter(t => !t.praise)
          .map(t => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
      </select>
      <Button look="quiet" className="!min-h-10 shrink-0 !px-1" onClick={() => void undo()}>
        Undo
      </Button>
    </>
  );
}
