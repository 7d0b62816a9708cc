/** Goes back to a version. One edit, which the message takes back. */
import { History } from 'lucide-react';
import { call } from '../show/api';
import { useSayUndo } from '../show/removing';
import { useEdit } from '../show/show';
import { Button } from '../ui/button';

export function RestoreButton({ id, name }: { id: string; name: string }) {
  const sayUndo = useSayUndo();
  const restore = useEdit(async () => {
    const { label } = await call<{ label: string }>('POST', `versions/${id}/restore`);
    sayUndo(`The show is as in ${name}.`, label);
  });
  return (
    <Button
      needs="edit"
      disabled={restore.isPending}
      title="Every row becomes as it was then. Undo brings back what is there now."
      onClick={() => restore.mutate(undefined)}
    >
      <History size={15} aria-hidden /> Go back to it
    </Button>
  );
}
