import Button from "@mui/material/Button";
import ListSubheader from "@mui/material/ListSubheader";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useId, useRef, useState } from "react";
import styles from "./Sheets.module.css";

export interface SheetOut {
  name: string;
  /** Its address without its form. */
  path: string;
  query?: Record<string, string | boolean>;
}

const FORMS = [
  { id: "ods", says: "ODS" },
  { id: "xlsx", says: "XLSX" },
  { id: "csv", says: "CSV" },
];

interface SheetsProps {
  sheets: SheetOut[];
  /** What is done with a sheet that comes back, and what that is called. */
  back?: { says: string; onFile: (file: File) => void };
}

/** What is on the screen as a sheet to keep, in the form that is wanted. */
export function Sheets({ sheets, back }: SheetsProps) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const id = useId();
  const close = () => setAt(null);
  return (
    <>
      <Button
        color="inherit"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        aria-controls={at ? id : undefined}
        onClick={(e) => setAt(e.currentTarget)}
      >
        As a sheet
      </Button>
      <Menu id={id} anchorEl={at} open={at !== null} onClose={close}>
        {sheets.flatMap(({ name, path, query }) => [
          <ListSubheader key={name}>{name}</ListSubheader>,
          ...FORMS.map((form) => (
            <MenuItem
              key={`${name} ${form.id}`}
              component="a"
              href={`${path}.${form.id}${asked(query)}`}
              download
              onClick={close}
            >
              {form.says}
              <span className="unseen">, {name}</span>
            </MenuItem>
          )),
        ])}
        {back && (
          <MenuItem
            divider={false}
            className={styles.back}
            onClick={() => {
              close();
              input.current?.click();
            }}
          >
            {back.says}
          </MenuItem>
        )}
      </Menu>
      {back && (
        <input
          ref={input}
          type="file"
          accept=".csv,.ods,.xlsx"
          hidden
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) back.onFile(file);
            e.target.value = "";
          }}
        />
      )}
    </>
  );
}

function asked(query: SheetOut["query"]): string {
  const given = Object.entries(query ?? {}).map(([name, value]) => [name, String(value)]);
  return given.length > 0 ? `?${new URLSearchParams(given)}` : "";
}
