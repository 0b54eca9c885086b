import { ChevronDown, ChevronUp } from "lucide-react";

import { Button } from "./Button";

interface UnfoldProps {
  label: string;
  open: boolean;
  onToggle: (open: boolean) => void;
}

/** Opens what lies under a line, and closes it again. */
export function Unfold({ label, open, onToggle }: UnfoldProps) {
  return (
    <Button
      look="quiet"
      className="px-2"
      aria-label={label}
      aria-expanded={open}
      onClick={() => {
        onToggle(!open);
      }}
    >
      {open ? <ChevronUp size={20} aria-hidden /> : <ChevronDown size={20} aria-hidden />}
    </Button>
  );
}
