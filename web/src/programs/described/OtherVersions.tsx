import Button from "@mui/material/Button";
import type { Schemas } from "../../api/client";
import styles from "./Described.module.css";
import type { Described } from "./useDescribed";

type Files = Schemas["DescribedFilesOut"];

interface OtherVersionsProps {
  files: Files;
  number: number;
  disabled: boolean;
  onBegin: (how: Described) => void;
}

/** The descriptions of other versions: what differs from this one, or one to begin with where this one has none. */
export function OtherVersions({ files, number, disabled, onBegin }: OtherVersionsProps) {
  const others = files.others.filter((o) => o.described[number]);
  if (others.length === 0) return null;
  return (
    <section className={styles.others} aria-label="Other versions">
      {others.map((o) => {
        const differs = o.differs[number];
        const how = o.described[number] as unknown as Described;
        return (
          <details key={o.version}>
            <summary>
              {!differs
                ? `Version ${o.version} is described; this one isn't yet.`
                : differs.length === 0
                  ? `Version ${o.version} is described alike.`
                  : `Version ${o.version} is described otherwise in ${differs.length === 1 ? "one point" : `${differs.length} points`}.`}
            </summary>
            {differs && differs.length > 0 && (
              <dl>
                {differs.map((d) => (
                  <div key={d.what}>
                    <dt>{d.what}</dt>
                    <dd>
                      here <code>{d.here || "nothing"}</code>, there <code>{d.there || "nothing"}</code>
                    </dd>
                  </div>
                ))}
              </dl>
            )}
            {!disabled && (!differs || differs.length > 0) && (
              <Button color="inherit" onClick={() => onBegin(how)}>
                {differs ? "Take it as it is there" : "Begin with it"}
                <span className="unseen"> of version {o.version}</span>
              </Button>
            )}
          </details>
        );
      })}
    </section>
  );
}
