import Button from "@mui/material/Button";
import type { LineIn } from "./useStandard";
import { useDrafts, useKeepDraft } from "./useStandard";

interface DraftChoiceProps {
  lines: LineIn[];
  family: boolean;
  draft: number | null;
  onDraft: (id: number | null) => void;
  onKept: () => void;
  name: string;
}

/** Keeps lines in the draft that is looked at, or begins one with them: nothing of it counts before it is taken over. */
export function DraftChoice({ lines, family, draft, onDraft, onKept, name }: DraftChoiceProps) {
  const drafts = useDrafts().data ?? [];
  const keep = useKeepDraft((kept) => {
    onDraft(kept.id);
    onKept();
  });
  const now = drafts.find((d) => d.id === draft) ?? null;
  return (
    <Button
      variant="outlined"
      color="inherit"
      disabled={lines.length === 0}
      loading={keep.isPending}
      onClick={() => keep.mutate({ id: now?.id ?? null, name: now?.name ?? `What if: ${name}`, lines, family })}
    >
      {now ? `Keep it in ${now.name}` : "Try it in a draft"}
    </Button>
  );
}
