import { House, Lightbulb, Mic } from 'lucide-react';
import { AlertDialog } from 'radix-ui';
import { useRef } from 'react';
import { useLeaving, type Running } from '../answers/useLeaving';
import { Shape } from './ChildFrame';

/** The same question in shapes: on with it, or home. Nothing is said aloud, for the microphone hears. */
export function ChildLeaving({ running }: { running: Running }) {
  const { isAsked, stay, leave, title, says, yes, no } = useLeaving(running);
  const onwards = useRef<HTMLSpanElement>(null);
  return (
    <AlertDialog.Root open={isAsked} onOpenChange={isOpen => !isOpen && stay()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <AlertDialog.Content
          onOpenAutoFocus={() => onwards.current?.querySelector('button')?.focus()}
          className="fixed inset-x-4 top-1/2 z-50 mx-auto max-w-md -translate-y-1/2 border-2 border-ink bg-sheet p-6"
        >
          <AlertDialog.Title className="text-sm text-soft">{title}</AlertDialog.Title>
          <AlertDialog.Description className="text-sm text-soft">{says}</AlertDialog.Description>
          <div className="mt-6 flex items-center justify-center gap-8">
            <Shape icon={House} kind="plain" small label={yes} onPress={leave} />
            <span ref={onwards}>
              <Shape
                icon={running === 'recording' ? Mic : Lightbulb}
                kind="speak"
                calls
                label={no}
                onPress={stay}
              />
            </span>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
