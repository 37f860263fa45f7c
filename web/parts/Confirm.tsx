import { AlertDialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from './Button';

/** Asks once before something that cannot be taken back lightly. */
export function Confirm({
  open,
  onClose,
  title,
  children,
  yes,
  no,
  onYes,
  onNo,
  isGrave = false,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  children: ReactNode;
  yes: string;
  no: string;
  onYes: () => void;
  /** Where the other button leads; left out, it only shuts the question. */
  onNo?: () => void;
  /** What is asked ends or takes away something: the button that keeps it is the one in sight. */
  isGrave?: boolean;
}) {
  return (
    <AlertDialog.Root open={open} onOpenChange={o => !o && onClose()}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <AlertDialog.Content className="fixed inset-x-4 top-1/2 z-50 mx-auto max-w-lg -translate-y-1/2 border-2 border-ink bg-sheet p-6">
          <AlertDialog.Title className="text-xl">{title}</AlertDialog.Title>
          <AlertDialog.Description asChild>
            <div className="mt-3">{children}</div>
          </AlertDialog.Description>
          <div className="mt-6 flex flex-wrap justify-end gap-3">
            <AlertDialog.Cancel asChild>
              <Button look={isGrave ? 'main' : 'plain'} onClick={onNo}>
                {no}
              </Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button look={isGrave ? 'plain' : 'main'} onClick={onYes}>
                {yes}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
