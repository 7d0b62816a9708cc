/** A question before something that can't be taken back easily. Escape and the first button leave everything as it is. */
import { AlertDialog } from 'radix-ui';
import { Button } from './button';

interface AskDialogProps {
  open: boolean;
  title: string;
  words: string;
  /** What the button says that does it. */
  yes: string;
  no: string;
  answer: (yes: boolean) => void;
}

export function AskDialog({ open, title, words, yes, no, answer }: AskDialogProps) {
  return (
    <AlertDialog.Root open={open} onOpenChange={(next) => !next && answer(false)}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-paper/70" />
        <AlertDialog.Content className="fixed top-1/3 left-1/2 z-50 w-[min(26rem,calc(100vw-2rem))] -translate-x-1/2 rounded border border-rule bg-raised p-4 shadow-xl">
          <AlertDialog.Title className="text-lg font-semibold">{title}</AlertDialog.Title>
          <AlertDialog.Description className="pt-1 text-ink-2">{words}</AlertDialog.Description>
          <div className="flex flex-wrap justify-end gap-2 pt-4">
            <AlertDialog.Cancel asChild>
              <Button look="main" className="h-11">
                {no}
              </Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button className="h-11" onClick={() => answer(true)}>
                {yes}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
