import { FileDown, FileUp } from "lucide-react";
import type { DragEvent } from "react";
import { useState } from "react";

import type { ListKind } from "../../api/lists";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { BadRows } from "./BadRows";
import { Changing } from "./Changing";
import { Columns } from "./Columns";
import { LastBrought } from "./LastBrought";
import { SetAside } from "./SetAside";
import { StoreList } from "./StoreList";
import { useBringing } from "./useBringing";
import { WhatItIs } from "./WhatItIs";

const SAVED: [ListKind, string][] = [
  ["roll", "roll"],
  ["people", "people"],
  ["readings", "readings"],
  ["moves", "moves"],
  ["room", "room"],
  ["care", "care"],
];

/** Bring a list as it is kept elsewhere: look first, then store all of it or nothing; and save the studio's own. */
export function BringScreen() {
  const bringing = useBringing();
  const { list } = bringing;
  const [leftOut, setLeftOut] = useState<readonly number[]>([]);
  return (
    <Shell title="Lists">
      <main
        id="content"
        tabIndex={-1}
        className="outline-none flex flex-1 flex-col gap-5 py-4"
        onDragOver={(event) => {
          event.preventDefault();
        }}
        onDrop={(event: DragEvent) => {
          event.preventDefault();
          setLeftOut([]);
          bringing.bring(event.dataTransfer.files[0]);
        }}
      >
        <section aria-label="Bring a list" className="flex flex-col gap-2">
          <p className="max-w-[60ch] text-lg">
            Bring a CSV file of instruments, people, readings, moves, the room’s air or care, in any order of columns. Nothing
            is stored before you say so.
          </p>
          <label
            className={`flex min-h-12 w-fit cursor-pointer items-center gap-2 rounded-md border border-ink px-4 focus-within:outline-3 focus-within:outline-offset-2 focus-within:outline-below ${list === null ? "bg-ink font-bold text-paper hover:opacity-90" : "bg-sheet hover:bg-lit"}`}
          >
            <FileUp size={20} aria-hidden />
            {list === null ? "Choose the file" : "Choose another file"}
            <input
              type="file"
              accept=".csv,.txt,.tsv,text/csv,text/plain"
              className="sr-only"
              onChange={(event) => {
                setLeftOut([]);
                bringing.bring(event.target.files?.[0]);
                event.target.value = "";
              }}
            />
          </label>
          {bringing.busy && <p aria-live="polite">{bringing.doing}</p>}
          <Trouble error={bringing.error} />
          {bringing.stored !== null && (
            <p role="status" className="text-xl font-bold">
              {bringing.stored} {bringing.stored === 1 ? "row is" : "rows are"} stored.
            </p>
          )}
        </section>
        {list !== null && bringing.stored === null && (
          <>
            <WhatItIs list={list} onChange={bringing.change} />
            <Columns key={`${list.id} ${String(list.header_line)}`} list={list} onChange={bringing.change} />
            <BadRows list={list} onChange={bringing.change} />
            <Changing list={list} leftOut={leftOut} onLeaveOut={setLeftOut} />
            <StoreList list={list} leftOut={leftOut} busy={bringing.busy} onStore={bringing.store} />
          </>
        )}
        {list === null || bringing.stored !== null ? <LastBrought onTakenBack={bringing.forget} /> : null}
        {list === null && <SetAside />}
        <section aria-label="Save" className="mt-auto flex flex-wrap items-center gap-2 border-t border-rule pt-3">
          <span className="font-bold">Save as CSV:</span>
          {SAVED.map(([kind, said]) => (
            <a
              key={kind}
              href={`/api/export/${kind}.csv`}
              className="flex min-h-11 items-center gap-1 rounded-md px-2.5 hover:bg-lit"
            >
              <FileDown size={18} aria-hidden /> {said}
            </a>
          ))}
        </section>
      </main>
    </Shell>
  );
}
