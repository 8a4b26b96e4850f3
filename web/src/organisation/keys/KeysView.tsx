import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { momentOf } from "../../shared/days";
import { FileButton } from "../../shared/FileButton";
import screen from "../../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import styles from "./Keys.module.css";
import type { Keys, Trusted } from "./useKeys";
import { useKeys, useNextKey, useTrust, useWithdraw } from "./useKeys";

/** Who signs: the own key, to give to others, and the organisations whose bundles are known here. */
export function KeysView() {
  const rights = useRights();
  const keys = useKeys();
  if (keys.isError) return <Trouble error={keys.error} again={() => keys.refetch()} />;
  if (!keys.data) return <Waiting what="the keys" />;
  const trusted = keys.data.trusted.filter((t) => !t.withdrawn);
  const withdrawn = keys.data.trusted.filter((t) => t.withdrawn);
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Who signs</h1>
        <span>A bundle says by its signature whose it is, and that nobody changed it on the way.</span>
      </div>
      <Own own={keys.data.own} />
      <section className={styles.others} aria-label="Known organisations">
        <h2>Known organisations</h2>
        {rights.administer && <TrustOne />}
        {trusted.length === 0 ? (
          <Empty title="No other organisation is known yet.">
            <p>
              {rights.administer
                ? "Ask them for their public key, choose the file here, and compare the eight groups of signs with them by telephone."
                : "An administrator can trust the public key of another organisation. Until then, what they sign is told as unknown."}
            </p>
          </Empty>
        ) : (
          <ul className={styles.list}>
            {trusted.map((t) => (
              <Row key={t.key} trusted={t} />
            ))}
          </ul>
        )}
        {withdrawn.length > 0 && (
          <>
            <h2>Not trusted any more</h2>
            <ul className={styles.list}>
              {withdrawn.map((t) => (
                <Row key={t.key} trusted={t} />
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  );
}

function Own({ own }: { own: Keys["own"] }) {
  const rights = useRights();
  const [sure, setSure] = useState(false);
  const next = useNextKey();
  if (own.kept === "") {
    return (
      <section className={styles.own} aria-label="The own key">
        <p>
          <b>{own.name}</b> has no key here, so bundles go out unsigned. Whoever runs the server gives it one in
          AMBERKEY_SIGNING_KEY; <code>./amberkey bundle key</code> makes it.
        </p>
      </section>
    );
  }
  return (
    <section className={styles.own} aria-label="The own key">
      <p>
        <b>{own.name}</b> signs with the key <Fingerprint of={own.fingerprint} />
        {own.older > 0 && `, which followed ${own.older === 1 ? "an older one" : `${own.older} older ones`}`}.
      </p>
      <p className={styles.quiet}>
        {own.kept === "file"
          ? "It is kept in the data folder, outside the database, and in backups only under their passphrase."
          : "It is given by whoever runs the server, and is in no backup of the database."}
      </p>
      <div className={styles.acts}>
        <Button variant="outlined" href="/api/keys/card" download>
          Public key, to give to others
        </Button>
        {rights.administer && own.kept === "file" && !sure && (
          <Button color="inherit" onClick={() => setSure(true)}>
            Make a new key
          </Button>
        )}
        {sure && (
          <>
            <span>The present key signs that the new one follows it, and signs nothing more. It can't be undone.</span>
            <Button
              variant="contained"
              loading={next.isPending}
              onClick={() => next.mutate(undefined, { onSettled: () => setSure(false) })}
            >
              Make it
            </Button>
            <Button color="inherit" onClick={() => setSure(false)}>
              Keep this one
            </Button>
          </>
        )}
      </div>
    </section>
  );
}

function Fingerprint({ of }: { of: string }) {
  return <code className={styles.print}>{of}</code>;
}

function TrustOne() {
  const [name, setName] = useState("");
  const trust = useTrust();
  return (
    <div className={styles.trust}>
      <TextField
        label="What you call them"
        placeholder="As they call themselves"
        value={name}
        onChange={(e) => setName(e.target.value)}
        autoComplete="off"
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <FileButton
        accept=".json"
        loading={trust.isPending}
        onFile={(file) => trust.mutate({ file, name }, { onSuccess: () => setName("") })}
      >
        Trust a public key
      </FileButton>
      <span>What it signs is then told as theirs. Bundles are looked through all the same.</span>
    </div>
  );
}

function Row({ trusted: t }: { trusted: Trusted }) {
  const rights = useRights();
  const withdraw = useWithdraw();
  return (
    <li>
      <b>{t.name}</b>
      <Fingerprint of={t.fingerprint} />
      <span className={styles.quiet}>
        {t.by}, <time dateTime={t.at}>{momentOf(t.at)}</time>
      </span>
      {rights.administer && (
        <Button
          color="inherit"
          loading={withdraw.isPending}
          onClick={() => withdraw.mutate({ of: t, withdrawn: !t.withdrawn })}
        >
          {t.withdrawn ? "Trust again" : "Trust no longer"}
          <span className="unseen"> {t.name}</span>
        </Button>
      )}
    </li>
  );
}
