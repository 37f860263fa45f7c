import { Keyboard } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { Button } from '../../parts/Button';

const KEYS: [string, string][] = [
  ['Space', 'play, pause'],
  ['← →', '3 seconds back, on'],
  ['Shift → ', 'to the next stretch of speech'],
  ['↑ ↓', 'lane above, lane below'],
  ['0 – 9', 'points (two digits in a row for 10 and more), or the level of the criterion in turn'],
  ['.', 'half a point more, or less again'],
  ['G', 'type the points'],
  ['Tab', 'to the next criterion'],
  ['⇧ S O I T R C L', 'in a running record: marks the word under the pointer'],
  ['P', 'the prompt, and back to the answer'],
  [
    'R, D',
    'in a discussion: what it replies to, then it; everything the student said. H J: the one before, the next',
  ],
  ['B', 'the answer against what lies beside it, from the same place'],
  ['L', 'repeat from here; again, up to here; again, no more'],
  ['S', 'leave silences out, or hear them again'],
  ['M', 'quiet recordings as loud as the others, or as they are'],
  ['N', 'a note at the moment that is heard; Enter keeps it'],
  ['V', 'hold it and speak a note'],
  ['C', 'find a comment in the bank; Enter puts it in, Shift Enter pins it to this moment'],
  ['A', 'the comment, or what is marked of it, into the bank'],
  ['W', 'write the comment; Escape leaves it'],
  [
    'E',
    'what is measured; K the task, X the exchange, O the overall level: then a digit, or Enter for the highest shown',
  ],
  ['Enter', 'finish and go to the next unmarked'],
  ['Ctrl Enter', 'the same, from inside the comment'],
  ['Z', 'take the last finishing back'],
  ['I, U', 'the next unmarked of this item, of this student'],
  ['− +', 'slower, faster'],
  ['T', 'title, filters and strip; / finds a name'],
  ['Shift Y, N, W', 'on a reading: take what is suggested, refuse it, hear it'],
  ['?', 'this list'],
];

export function KeysHelp({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpen}>
      <Dialog.Trigger asChild>
        <Button look="quiet">
          <Keyboard aria-hidden className="size-5" /> Keys
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content
          aria-describedby={undefined}
          // The keys belong to the lanes again, and not to the button that a press opened this by.
          onCloseAutoFocus={event => event.preventDefault()}
          className="fixed inset-x-4 top-1/2 z-50 mx-auto max-h-[90dvh] max-w-2xl -translate-y-1/2 overflow-y-auto border-2 border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-xl">Listening by keyboard</Dialog.Title>
          <dl className="mt-4 grid grid-cols-[5rem_1fr] gap-x-3 gap-y-1.5 md:grid-cols-[5rem_1fr_5rem_1fr]">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="tabular font-semibold">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <div className="mt-6 text-end">
            <Dialog.Close asChild>
              <Button>Back to the lanes</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
