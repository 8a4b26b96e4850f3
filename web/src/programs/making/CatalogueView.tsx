import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Deleted } from "../../profiles/Deleting";
import { FileButton } from "../../shared/FileButton";
import { One } from "../../shared/fields";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useRights } from "../../shared/useSession";
import styles from "./Making.module.css";
import { PlatformsChoice } from "./PlatformsChoice";
import type { Listed, Platform } from "./useCatalogue";
import { KINDS, PLATFORMS, useBringProgram, useCatalogue, useMakeProgram } from "./useCatalogue";

/** Every program that there is, whoever has it; where new ones are made. */
export function CatalogueView() {
  const catalogue = useCatalogue();
  const [params, change] = useAddress();
  const rights = useRights();
  if (catalogue.isError) return <Trouble error={catalogue.error} again={() => catalogue.refetch()} />;
  if (!catalogue.data) return <Waiting what="the programs" />;
  const { programs } = catalogue.data;
  const own = programs.filter((p) => !p.table);
  const making = params.get("make") !== null;
  return (
    <>
      <div className={screen.top}>
        <h1>All programs</h1>
        <span>
          <b>{own.length}</b> with <b>{own.reduce((sum, p) => sum + p.commands, 0).toLocaleString("en")}</b> commands,
          and what the three desktops take
        </span>
        <span className={screen.right}>
          {rights.edit && !making && (
            <>
              <Button variant="outlined" color="inherit" component={Link} to="/programs/list">
                Bring in a list of commands
              </Button>
              <Button variant="contained" onClick={() => change({ make: "1" }, true)}>
                Add a program
              </Button>
            </>
          )}
        </span>
      </div>
      {making && rights.edit && (
        <MakeProgram
          programs={programs}
          like={params.get("like") ?? ""}
          onLeave={() => change({ make: null, like: null })}
        />
      )}
      {own.length === 0 && !making && (
        <Empty title="No program is known yet but the three desktops.">
          <p>
            Add the ones that your people use: <Link to="/programs/list">a list of commands</Link> out of a sheet or a
            help page, or by hand here, with the keys that they ship with.
          </p>
        </Empty>
      )}
      <ul className={styles.programs} aria-label="Programs">
        {programs.map((p) => (
          <li key={`${p.id}@${p.version}`}>
            <span>
              <Link
                to={{ pathname: "/programs/edit", search: `program=${p.id}&version=${encodeURIComponent(p.version)}` }}
              >
                {p.name} {p.version}
              </Link>
              <small>
                {p.table ? "what the desktop takes" : (KINDS.find((k) => k.id === p.kind)?.name ?? p.kind)};{" "}
                {p.platforms.map((o) => PLATFORMS.find((q) => q.id === o)?.name).join(", ")}
              </small>
            </span>
            <span>
              {p.commands.toLocaleString("en")} {p.commands === 1 ? "command" : "commands"}
              {!p.table && <small>{p.with_task} with a task</small>}
            </span>
            <span>
              {p.machines === 0 ? "on no machine" : `on ${p.machines} ${p.machines === 1 ? "machine" : "machines"}`}
            </span>
            {rights.edit && (
              <Button color="inherit" onClick={() => change({ make: "1", like: `${p.id}@${p.version}` }, true)}>
                From this one
                <span className="unseen">
                  : {p.name} {p.version}
                </span>
              </Button>
            )}
          </li>
        ))}
      </ul>
      <div className={styles.deleted}>
        <Deleted kind="program" />
      </div>
    </>
  );
}

interface MakeProps {
  programs: Listed[];
  like: string;
  onLeave: () => void;
}

type Way = "new" | "like" | "version" | "file";

function MakeProgram({ programs, like, onLeave }: MakeProps) {
  const navigate = useNavigate();
  const [base, setBase] = useState(like);
  const [way, setWay] = useState<Way>(like ? "version" : "new");
  const of = programs.find((p) => `${p.id}@${p.version}` === base);
  const [name, setName] = useState("");
  const [version, setVersion] = useState(like ? "" : "1.0"); // the next one of a program has another
  const [kind, setKind] = useState<Listed["kind"]>("office");
  const [platforms, setPlatforms] = useState<Platform[]>(["windows"]);
  const open = (program: string, made: string) =>
    navigate({ pathname: "/programs/edit", search: `program=${program}&version=${encodeURIComponent(made)}` });
  const make = useMakeProgram(open);
  const bring = useBringProgram(open);
  const called = way === "version" ? (of?.name ?? "") : name;
  const ready =
    called.trim() !== "" && version.trim() !== "" && (way === "new" ? platforms.length > 0 : of !== undefined);
  return (
    <form
      className={styles.make}
      aria-label="A new program"
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        make.mutate({
          name: called,
          version,
          kind,
          platforms: way === "new" ? platforms : (of?.platforms ?? platforms),
          like: way === "new" ? null : base,
          as_version: way === "version",
        });
      }}
    >
      <ToggleButtonGroup
        exclusive
        value={way}
        onChange={(_, w: Way | null) => w && setWay(w)}
        aria-label="How it begins"
      >
        <ToggleButton value="new">Empty</ToggleButton>
        <ToggleButton value="like">Like another</ToggleButton>
        <ToggleButton value="version">New version of one</ToggleButton>
        <ToggleButton value="file">Out of a file</ToggleButton>
      </ToggleButtonGroup>
      {way === "file" && (
        <FileButton
          accept=".json,application/json"
          variant="contained"
          loading={bring.isPending}
          onFile={(file) => bring.mutate(file)}
        >
          Choose the file
        </FileButton>
      )}
      {(way === "like" || way === "version") && (
        <span className={styles.base}>
          <One
            label={way === "like" ? "Like" : "The version before"}
            value={base}
            choices={programs.map((p) => ({ id: `${p.id}@${p.version}`, name: `${p.name} ${p.version}` }))}
            onChange={setBase}
          />
        </span>
      )}
      {(way === "new" || way === "like") && (
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} autoFocus required />
      )}
      {way !== "file" && (
        <TextField
          label="Version"
          value={version}
          onChange={(e) => setVersion(e.target.value)}
          autoFocus={way === "version"}
          required
          sx={{ width: 110 }}
        />
      )}
      {way === "new" && (
        <>
          <span className={styles.kind}>
            <One label="Kind" value={kind} choices={KINDS} onChange={(id) => setKind(id as Listed["kind"])} />
          </span>
          <PlatformsChoice value={platforms} onChange={setPlatforms} />
        </>
      )}
      {way !== "file" && (
        <Button type="submit" variant="contained" disabled={!ready} loading={make.isPending}>
          Add it
        </Button>
      )}
      <Button color="inherit" onClick={onLeave}>
        Leave it
      </Button>
    </form>
  );
}
