import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './Button';

/** The end of a form in a dialogue: what was typed is kept, or left. */
export function KeepOrLeave({ isBusy, onLeave }: { isBusy: boolean; onLeave: () => void }) {
  return (
    <div className="flex flex-wrap gap-3">
      <Button look="main" type="submit" disabled={isBusy}>
        Keep it
      </Button>
      <Button look="quiet" onClick={onLeave}>
        Leave it as it was
      </Button>
    </div>
  );
}

/** A small form over the page, which is left by Escape or beside it. */
export function Dialogue({
  title,
  says,
  onClose,
  children,
}: {
  title: string;
  says?: string;
  onClose: () => void;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content
          {...(!says && { 'aria-describedby': undefined })}
          className="fixed inset-x-4 top-[12vh] z-50 mx-auto max-h-[80vh] max-w-lg overflow-y-auto border-2 border-ink bg-sheet p-6"
        >
          <Dialog.Title className="text-xl">{title}</Dialog.Title>
          {says && <Dialog.Description className="mt-1 text-soft">{says}</Dialog.Description>}
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
