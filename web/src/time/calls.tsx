/** Whether moments are called by timecode: one switch, for a rehearsal. */
import { usePosition } from '../show/show';
import { NotOfTheShow } from '../ui/read-only';
import { Switch } from '../ui/switch';
import { usePositionSeen } from './use-position';

export function Calls() {
  const position = usePositionSeen();
  const act = usePosition();
  return (
    <NotOfTheShow needs="operator">
      <Switch
        label="Call moments by timecode"
        on={position?.callsOn ?? true}
        change={(on) => act.mutate({ do: 'calls', on })}
      />
    </NotOfTheShow>
  );
}
