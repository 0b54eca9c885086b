import { useLastList, useUndoList } from "../../api/lists";
import { Button } from "../../parts/Button";
import { LANGUAGE } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";

/** The list stored last, and the way to take it back. `onTakenBack`: nothing of it is stored any more. */
export function LastBrought({ onTakenBack }: { onTakenBack: () => void }) {
  const last = useLastList();
  const undo = useUndoList();
  const id = last.data?.id ?? null;
  return (
    <section aria-label="Brought last" className="flex flex-wrap items-center gap-3 empty:hidden">
      {id !== null && (
        <>
          <span>
            Brought last: <b>{last.data?.file_name}</b>, {rows(last.data?.rows_stored ?? 0)}.
          </span>
          <Button
            disabled={undo.isPending}
            onClick={() => {
              undo.mutate(id, { onSuccess: onTakenBack });
            }}
          >
            {undo.isPending ? "Taking it back…" : "Take it back"}
          </Button>
        </>
      )}
      {undo.isSuccess && <span role="status">It is taken back.</span>}
      <Trouble error={undo.error} />
    </section>
  );
}

function rows(count: number): string {
  return count === 1 ? "1 row" : `${count.toLocaleString(LANGUAGE)} rows`;
}
