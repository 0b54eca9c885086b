import type { StringBench } from "../../api/client";
import { Entry } from "./Entry";
import { LastDeed } from "./LastDeed";
import { fieldsOf, Pad } from "./Pads";
import type { useBenchController } from "./useBenchController";
import type { SoundFrom } from "./WhereFrom";

interface EnterProps {
  from: SoundFrom;
  string: StringBench;
  controller: Pick<ReturnType<typeof useBenchController>, "entry" | "lastDeed" | "listening" | "keepSaid" | "chooseFrom">;
}

/** Where a reading is entered by hand, a line or fields, and what answers it. */
export function Enter({ from, string, controller }: EnterProps) {
  const answer = <LastDeed {...controller.lastDeed} />;
  if (fieldsOf(from, string) === null)
    return (
      <Entry {...controller.entry} string={string.name}>
        {answer}
      </Entry>
    );
  return (
    <>
      <Pad
        from={from}
        string={string}
        tone={controller.listening.tone}
        along={controller.listening}
        error={controller.entry.error}
        onSaid={controller.keepSaid}
        onLetters={() => {
          controller.chooseFrom("letters");
        }}
      />
      {answer}
    </>
  );
}
