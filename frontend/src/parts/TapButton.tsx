import { Button } from "./Button";

interface TapButtonProps {
  said: string;
  /** When each tap was, in seconds. */
  taps: number[];
  onTaps: (taps: number[]) => void;
  look?: "main" | "plain";
  disabled?: boolean;
  className: string;
}

/** Tapped along with beats: by finger, by Space or by Enter; the moment of the press counts. */
export function TapButton({ said, taps, onTaps, look = "plain", disabled = false, className }: TapButtonProps) {
  const tap = (event: { timeStamp: number; preventDefault: () => void }) => {
    event.preventDefault();
    onTaps([...taps, event.timeStamp / 1000]);
  };
  return (
    <Button
      look={look}
      className={className}
      disabled={disabled}
      onPointerDown={tap}
      onKeyDown={(event) => {
        if ((event.key === " " || event.key === "Enter") && !event.repeat) tap(event);
      }}
    >
      {said}
      {taps.length > 0 ? ` · ${String(taps.length)}` : ""}
    </Button>
  );
}
