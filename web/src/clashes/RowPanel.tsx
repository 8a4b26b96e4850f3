import Button from "@mui/material/Button";
import { Link, useLocation } from "react-router";
import { someOf, useSetupName } from "../shared/setupsInWords";
import { useRights } from "../shared/useSession";
import { tryAddress } from "../trying/address";
import styles from "./Clashes.module.css";
import type { Tab } from "./filters";
import type { Group } from "./useClashes";
import { useMean } from "./useClashes";
import { WaysPanel } from "./ways/WaysPanel";

interface RowPanelProps {
  group: Group;
  tab: Tab;
  onClose: () => void;
}

/** What unfolds under a row: what happens, in a sentence for people, and what can be done about it. */
export function RowPanel({ group, tab, onClose }: RowPanelProps) {
  const { search } = useLocation();
  const rights = useRights();
  const mean = useMean(onClose);
  const chosen = [{ identity: group.identity, setup: group.seen_in }];
  const nameOf = useSetupName();
  const meant = tab === "meant";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Escape leads back to the row
    <div
      className={styles.panel}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || event.defaultPrevented) return;
        event.preventDefault();
        onClose();
      }}
    >
      <p>
        {group.says} <b>{touched(group, someOf(group.setups.map(nameOf)))}</b>
        {group.new && " It is new since the release."}
        {group.allowed && ` Allowed by ${group.allowed.by}: ${group.allowed.reason}`}
        {group.allowed?.until && ` It comes back after ${group.allowed.until}.`}
        {group.meaning &&
          ` ${group.meaning.by} found out that its maker ${group.meaning.meant ? "meant it" : "didn't mean it"}.`}
      </p>
      {!meant && <WaysPanel group={group} onDecided={onClose} />}
      <div className={styles.beside}>
        {group.subject.shortcut.caps.length > 0 && (
          <Link to={{ pathname: "/try", search: tryAddress(search, group) }}>Try the press</Link>
        )}
        {rights.edit && group.may_be_meant && (
          <Button
            color="inherit"
            variant={meant ? "outlined" : "text"}
            loading={mean.isPending}
            onClick={() => mean.mutate({ chosen, meant: !meant })}
          >
            {meant ? "Not meant: put it among those to decide" : "Meant by the maker: out of sight"}
          </Button>
        )}
      </div>
    </div>
  );
}

function touched(group: Group, where: string): string {
  const people = group.people === 1 ? "1 person" : `${group.people} people`;
  return `${people} in ${where} ${group.people === 1 ? "is" : "are"} touched.`;
}
