import Button from "@mui/material/Button";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { FileButton } from "../../shared/FileButton";
import { One } from "../../shared/fields";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useSetups } from "../useOrganisation";
import styles from "./Setups.module.css";
import { useIntoFile, useSetupFiles } from "./useSetupFiles";

type SetupFile = Schemas["SetupFileOut"];

/** The settings files of a setup as programs read them: looked at, taken out one by one or together, or written into one's own. */
export function SetupFilesView() {
  const [params, setParams] = useSearchParams();
  const setups = useSetups();
  const setup = setups.data?.find((s) => s.id === params.get("setup")) ?? setups.data?.[0];
  const files = useSetupFiles(setup?.id);
  if (setups.isError) return <Trouble error={setups.error} again={() => setups.refetch()} />;
  if (!setups.data) return <Waiting what="the setups" />;
  if (!setup) {
    return (
      <Empty whole title="No setup is in use yet.">
        <p>A setup follows from a person who sits at a machine. Add machines, then people who sit at them.</p>
      </Empty>
    );
  }
  const written = files.data?.filter((f) => f.text) ?? [];
  const choose = (id: string) =>
    setParams((old) => {
      const next = new URLSearchParams(old);
      next.set("setup", id);
      return next;
    });
  return (
    <div className={styles.view}>
      <div className={screen.top}>
        <h1>Settings files</h1>
        <span>
          What the layers of a setup set, as its programs read it: for machines without an agent, or to look at first.
        </span>
      </div>
      <div className={styles.choose}>
        <One label="Setup" value={setup.id} choices={setups.data} onChange={choose} />
        {written.length > 0 && (
          <Button variant="contained" href={`/api/setups/${setup.id}/files/together`} download>
            {written.length === 1 ? "Take it out with its folder" : `All ${written.length} with their folders`}
          </Button>
        )}
        <Link to={{ pathname: "/organisation/setups", search: params.toString() }}>All setups</Link>
      </div>
      {files.isError && <Trouble error={files.error} again={() => files.refetch()} />}
      {!files.data && !files.isError && <Waiting what="the files" />}
      {files.data?.length === 0 && (
        <Empty title="The layers of this setup set nothing.">
          <p>Give commands other keys, or give this setup a profile: then its programs' files have something to say.</p>
        </Empty>
      )}
      <ul className={styles.files} aria-label="Settings files">
        {files.data?.map((f) => (
          <FileRow key={`${f.program} ${f.file}`} setup={setup.id} file={f} />
        ))}
      </ul>
    </div>
  );
}

function FileRow({ setup, file }: { setup: string; file: SetupFile }) {
  const [open, setOpen] = useState(false);
  const into = useIntoFile(setup, file);
  const at = `/api/setups/${setup}/files/${file.program}/${file.file}`;
  return (
    <li>
      <div className={styles.file}>
        <b>{file.program_name}</b>
        <code>{file.path || "not described"}</code>
        <span className={styles.quiet}>
          {file.text ? `${file.commands} ${file.commands === 1 ? "command" : "commands"}` : ""}
        </span>
        {file.text ? (
          <span className={styles.acts}>
            <Button color="inherit" aria-expanded={open} onClick={() => setOpen(!open)}>
              {open ? "Fold it" : "Look at it"}
              <span className="unseen"> of {file.program_name}</span>
            </Button>
            <Button color="inherit" href={at} download>
              As a new file<span className="unseen"> of {file.program_name}</span>
            </Button>
            <FileButton accept="*" loading={into.isPending} onFile={(mine) => into.mutate(mine)}>
              Into a file of theirs<span className="unseen"> of {file.program_name}</span>
            </FileButton>
          </span>
        ) : (
          <span className={styles.acts}>
            <Link
              to={{ pathname: "/programs", search: new URLSearchParams({ setup, program: file.program }).toString() }}
            >
              Its program
            </Link>
          </span>
        )}
      </div>
      {file.left_out.map((says) => (
        <p key={says} className={styles.quiet}>
          {file.text ? `Left out: ${says}` : says}
        </p>
      ))}
      {file.put && (
        <p className={styles.quiet}>
          It is no file but the text of a settings store: whoever has it puts it there with <code>{file.put}</code>.
        </p>
      )}
      {open && <pre className={styles.text}>{file.text}</pre>}
    </li>
  );
}
