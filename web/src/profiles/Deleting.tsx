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

/** Deleting the profile, and the deleted documents that can be brought back. */
export function Deleting({ profile, onGone }: { profile: Profile; onGone: () => void }) {
  const rights = useRights();
  const says = useSays();
  const changed = useChanged();
  const deleted = useQuery({ queryKey: key("line", "deleted"), queryFn: () => answer(api.GET("/api/deleted")) });
  const bring = useMutation({
    mutationFn: ({ kind, id }: { kind: string; id: string }) =>
      answer(api.POST("/api/deleted/{kind}/{doc_id}", { params: { path: { kind, doc_id: id } } })),
    onSuccess: async (back) => {
      await changed();
      says.done(`${back.name} is there again.`);
    },
    onError: says.refused,
  });
  const remove = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/documents/{kind}/{doc_id}/delete", {
          params: { path: { kind: "profile", doc_id: profile.id } },
        }),
      ),
    onSuccess: async (gone) => {
      onGone();
      await changed();
      says.done(`Deleted ${gone.name}.`, () => bring.mutate({ kind: gone.kind, id: gone.id }));
    },
    onError: says.refused,
  });
  if (!rights.edit) return null;
  return (
    <section className={styles.actions} aria-label="Deleted ones">
      <Button color="inherit" variant="outlined" loading={remove.isPending} onClick={() => remove.mutate()}>
        Delete {profile.name}
      </Button>
      {(deleted.data ?? []).map((d) => (
        <span key={d.key}>
          {d.name}, deleted {dayOf(d.at)}{" "}
          <Button size="small" color="inherit" onClick={() => bring.mutate({ kind: d.kind, id: d.id })}>
            Bring it back
          </Button>
        </span>
      ))}
    </section>
  );
}
