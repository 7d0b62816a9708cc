/** What the forms of sends share. */
import type { Send } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import { Switch } from '../ui/switch';

export type SaveSend = (send: Send) => Promise<unknown>;

export interface FormProps<S> {
  send: S;
  show: Show;
  save: SaveSend;
  /** True if it belongs to a mapping, which hears something that it can follow or be held by. Moments hear nothing. */
  heard: boolean;
  /** False if it belongs to a motion, which moves by itself and never fades. */
  fades?: boolean;
}

type FollowingSend = Extract<Send, { follows: boolean }>;

/** Switches whether the number follows the heard one. */
export function FollowSwitch({ send, save }: { send: FollowingSend; save: SaveSend }) {
  return (
    <div className="py-1 pl-24">
      <Switch
        label="Follow the input number"
        on={send.follows}
        change={(follows) => void save({ ...send, follows }).catch(() => undefined)}
      />
    </div>
  );
}
