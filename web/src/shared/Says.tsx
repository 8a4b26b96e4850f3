import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import type { ReactNode } from "react";
import { createContext, useCallback, useContext, useMemo, useState } from "react";
import { ProblemError } from "../api/client";

interface Message {
  /** Each message stands its own time, also one that comes while another still stands. */
  number: number;
  text: string;
  more: string[];
  kind: "done" | "refused";
  undo?: () => void;
}

interface Says {
  done: (text: string, undo?: () => void) => void;
  refused: (error: unknown) => void;
}

const SaysContext = createContext<Says>({ done: () => undefined, refused: () => undefined });

/** Short words at the edge of the screen: what was done (with its undo), or why something was refused. */
export function useSays(): Says {
  return useContext(SaysContext);
}

export function wordsOf(error: unknown): string[] {
  if (!(error instanceof ProblemError)) return ["Something went wrong in this page. Load it again."];
  const { title, detail, cure, safe, changes } = error.problem;
  return [title, detail, ...(changes ?? []).filter((c) => !detail.includes(c)), safe, cure].filter(Boolean);
}

export function SaysProvider({ children }: { children: ReactNode }) {
  const [message, setMessage] = useState<Message | null>(null);
  const [open, setOpen] = useState(false);
  const show = useCallback((next: Omit<Message, "number">) => {
    setMessage((last) => ({ ...next, number: (last?.number ?? 0) + 1 }));
    setOpen(true);
  }, []);
  const says = useMemo<Says>(
    () => ({
      done: (text, undo) => show({ text, more: [], kind: "done", undo }),
      refused: (error) => {
        const [text = "", ...more] = wordsOf(error);
        show({ text, more, kind: "refused" });
      },
    }),
    [show],
  );
  const close = () => setOpen(false);
  return (
    <SaysContext value={says}>
      {children}
      <Snackbar
        key={message?.number}
        open={open}
        onClose={(_, reason) => reason !== "clickaway" && close()}
        autoHideDuration={message?.kind === "done" ? 8000 : null}
        anchorOrigin={{ vertical: "bottom", horizontal: "center" }}
        // Above the keyboard, clear of the lens and of what the screen is headed with.
        sx={{ "&.MuiSnackbar-root": { bottom: 214 } }}
      >
        <Alert
          severity={message?.kind === "done" ? "success" : "error"}
          variant="outlined"
          icon={false}
          role={message?.kind === "done" ? "status" : "alert"}
          sx={{ bgcolor: "background.paper", color: "text.primary", maxWidth: 620 }}
          onClose={close}
          action={
            message?.undo ? (
              <Button
                onClick={() => {
                  close();
                  message.undo?.();
                }}
              >
                Undo this
              </Button>
            ) : undefined
          }
        >
          <strong>{message?.text}</strong>
          {message?.more.map((line) => (
            <div key={line}>{line}</div>
          ))}
        </Alert>
      </Snackbar>
    </SaysContext>
  );
}
