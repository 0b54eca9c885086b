import { Button } from "./Button";

interface LevelMeterProps {
  heard: string;
  look: { level_db: number; clipping: boolean; room_db?: number | null } | null;
  words: string;
  /** What can be done about what the words say. */
  act?: { name: string; onPress: () => void };
}

const SOFTEST_DB = -70;

/** Where a level stands between silence and full scale, from 0 to 1. */
function along(levelDb: number): number {
  return Math.max(0, Math.min(1, 1 - levelDb / SOFTEST_DB));
}

/** A level, dark where it stands out of the room, and what is heard in words and figures; of one height, whatever the words are. */
export function LevelMeter({ heard, look, words, act }: LevelMeterProps) {
  const level = look === null ? 0 : along(look.level_db);
  const room = look?.room_db == null ? 0 : Math.min(level, along(look.room_db));
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3">
      <span className="min-w-44 text-xl font-bold" data-testid="live">
        {heard}
      </span>
      <div
        className="flex h-3 rounded-sm border border-rule"
        role="meter"
        aria-label="Level"
        aria-valuenow={Math.round(level * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
      >
        <div className="h-full bg-rule" style={{ width: `${String(room * 100)}%` }} />
        <div
          className={`h-full rounded-r-sm ${look?.clipping === true ? "bg-above" : "bg-ink"}`}
          style={{ width: `${String((level - room) * 100)}%` }}
        />
      </div>
      <div className="col-span-2 flex min-h-12 items-center gap-3">
        <span className="min-w-0 flex-1 leading-tight text-pencil" role="status">
          {words}
        </span>
        {act !== undefined && <Button onClick={act.onPress}>{act.name}</Button>}
      </div>
    </div>
  );
}
