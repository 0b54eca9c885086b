import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";

import type { Go } from "../../api/practice";
import { useBeginGo, useKeptGo, useLooseGo } from "../../api/practice";
import { Shell } from "../../parts/Shell";
import { Trouble } from "../../parts/Trouble";
import { Unready } from "../../parts/Unready";
import { GoRun } from "./GoRun";

/** A go that is kept, at its address: it goes on where it was left, on any device. */
export function KeptGoScreen() {
  const { goId } = useParams();
  const kept = useKeptGo(goId);
  const navigate = useNavigate();
  const begin = useBeginGo();
  if (kept.data === undefined) {
    return (
      <Shell title="Practice">
        <Unready query={kept} what="the drill" />
      </Shell>
    );
  }
  const again = (go: Go) => {
    begin.mutate(
      { drill: go.drill, personId: go.person_id, on: { kind: go.kind } },
      { onSuccess: (next) => void navigate(`/practice/go/${next.go_id ?? ""}`, { replace: true }) },
    );
  };
  return (
    <>
      <GoRun key={goId} begun={kept.data} onAgain={again} />
      <Trouble error={begin.error} />
    </>
  );
}

const TRY = "pondus-try";

/** A go that nothing is kept of: it lives in this tab, and survives a reload of it. */
export function TryScreen() {
  const { drill = "" } = useParams();
  const [query] = useSearchParams();
  const kind = query.get("kind") ?? "violin";
  return <Try key={`${drill} ${kind}`} drill={drill} kind={kind} />;
}

function Try({ drill, kind }: { drill: string; kind: string }) {
  const place = `${TRY} ${drill} ${kind}`;
  const [left] = useState(() => stored(place));
  const [round, setRound] = useState(0);
  const fresh = useLooseGo(drill, kind, round, left === null || round > 0);
  const go = round === 0 && left !== null ? left : fresh.data;
  if (go === undefined) {
    return (
      <Shell title="Practice">
        <Unready query={fresh} what="the drill" />
      </Shell>
    );
  }
  return (
    <GoRun
      key={go.loose?.seed}
      begun={go}
      onChange={(now) => {
        sessionStorage.setItem(place, JSON.stringify(now));
      }}
      onAgain={() => {
        setRound(round + 1);
      }}
    />
  );
}

function stored(place: string): Go | null {
  try {
    const kept = sessionStorage.getItem(place);
    const go = kept === null ? null : (JSON.parse(kept) as Go);
    return go?.question == null ? null : go;
  } catch {
    return null;
  }
}
