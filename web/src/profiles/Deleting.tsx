import Button from "@mui/material/Button";
import { useMutation, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { dayOf } from "../shared/days";
import { useSays } from "../shared/Says";
import { useChanged } from "../shared/useHistory";
import { useRights } from "../shared/useSession";
import styles from "./Profiles.module.css";
import type { Profile } from "./useProfiles";

/** Deleting the profile, and the deleted ones that can be brought back. */
export function Deleting({ profile, onGone }: { profile: Profile; onGone: () => void }) {
  const rights = useRights();
  if (!rights.edit) return null;
  return (
    <section className={styles.actions} aria-label="Deleted ones">
      <DeleteIt kind="profile" id={profile.id} name={profile.name} onGone={onGone} />
      <Deleted kind="profile" />
    </section>
  );
}

function useBring() {
  const says = useSays();
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ kind, id }: { kind: string; id: string }) =>
      answer(api.POST("/api/deleted/{kind}/{doc_id}", { params: { path: { kind, doc_id: id } } })),
    onSuccess: async (back) => {
      await changed();
      says.done(`${back.name} is there again.`);
    },
    onError: says.refused,
  });
}

interface DeleteItProps {
  kind: "profile" | "program";
  id: string;
  name: string;
  onGone: () => void;
}

/** Deletes a document; it can be brought back. */
export function DeleteIt({ kind, id, name, onGone }: DeleteItProps) {
  const says = useSays();
  const changed = useChanged();
  const bring = useBring();
  const remove = useMutation({
    mutationFn: () =>
      answer(api.POST("/api/documents/{kind}/{doc_id}/delete", { params: { path: { kind, doc_id: id } } })),
    onSuccess: async (gone) => {
      onGone();
      await changed();
      says.done(`Deleted ${gone.name}.`, () => bring.mutate({ kind: gone.kind, id: gone.id }));
    },
    onError: says.refused,
  });
  return (
    <Button color="inherit" variant="outlined" loading={remove.isPending} onClick={() => remove.mutate()}>
      Delete {name}
    </Button>
  );
}

/** The deleted documents of a kind, each to be brought back. */
export function Deleted({ kind }: { kind: string }) {
  const rights = useRights();
  const bring = useBring();
  const deleted = useQuery({ queryKey: key("line", "deleted"), queryFn: () => answer(api.GET("/api/deleted")) });
  if (!rights.edit) return null;
  return (deleted.data ?? [])
    .filter((d) => d.kind === kind)
    .map((d) => (
      <span key={d.key}>
        {d.name}, deleted {dayOf(d.at)}{" "}
        <Button size="small" color="inherit" onClick={() => bring.mutate({ kind: d.kind, id: d.id })}>
          Bring it back
        </Button>
      </span>
    ));
}
