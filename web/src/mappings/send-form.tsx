/** What the forms of sends share. */
import type { Send } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import { Switch } from '../ui/switch';

export type SaveSend = (send: Send) => Promise<unknown>;

export interface FormProps<S> {
  send: S;
  show: Show;
  save: SaveSend;
  /** It is sent for something that is heard: what follows and is held with that can be set. A moment hears nothing. */
  heard: boolean;
}

type FollowingSend = Extract<Send, { follows: boolean }>;

/** Whether the number goes on with the one that is heard. */
export function FollowSwitch({ send, save }: { send: FollowingSend; save: SaveSend }) {
  return (
    <div className="py-1 pl-24">
      <Switch
        label="And on, with the heard number"
        on={send.follows}
        change={(follows) => void save({ ...send, follows }).catch(() => undefined)}
      />
    </div>
  );
}
