import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { momentOf } from "../shared/days";
import { wordsOf } from "../shared/Says";
import { Waiting } from "../shared/states";
import { useSession } from "../shared/useSession";
import styles from "./SignIn.module.css";

/** Behind a one-time link: a password is set, by the first administrator a name too. The secret stands behind the #, so it travels
 * in no address that anybody keeps. */
export function LinkPage() {
  const secret = window.location.hash.slice(1);
  const session = useSession(); // it brings the page's token
  const link = useQuery({
    queryKey: key("link", secret),
    queryFn: () => answer(api.POST("/api/links/look", { body: { secret } })),
    enabled: session.isSuccess,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (link.isPending) return <Waiting what="the link" />;
  return (
    <main className={styles.page}>
      {link.isError ? (
        <div className={styles.form} role="alert">
          <h1>Amber Key</h1>
          {wordsOf(link.error).map((line) => (
            <p key={line}>{line}</p>
          ))}
          <Button variant="outlined" href="/">
            Sign in
          </Button>
        </div>
      ) : (
        <SetPassword
          secret={secret}
          first={link.data.first}
          name={link.data.name}
          signsInAs={link.data.signs_in_as}
          until={link.data.until}
        />
      )}
    </main>
  );
}

interface SetPasswordProps {
  secret: string;
  first: boolean;
  name: string;
  signsInAs: string;
  until: string;
}

function SetPassword({ secret, first, name, signsInAs, until }: SetPasswordProps) {
  const [called, setCalled] = useState(name);
  const [signs, setSigns] = useState(signsInAs);
  const [password, setPassword] = useState("");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const use = useMutation({
    mutationFn: () =>
      answer(api.POST("/api/links/use", { body: { secret, signs_in_as: signs, name: called, password } })),
    onSuccess: (session) => {
      queries.clear();
      queries.setQueryData(key("session"), session);
      navigate("/", { replace: true });
    },
  });
  return (
    <form
      className={styles.form}
      onSubmit={(event) => {
        event.preventDefault();
        use.mutate();
      }}
    >
      <h1>{first ? "Begin with Amber Key" : `Welcome, ${name}`}</h1>
      <p>
        {first
          ? "You become its first administrator: you add the others, and nothing is kept from you."
          : `Choose a password for ${signsInAs}. This link works once, until ${momentOf(until)}.`}
      </p>
      {first && (
        <>
          <TextField
            label="What you are called"
            value={called}
            onChange={(e) => setCalled(e.target.value)}
            autoComplete="name"
            autoFocus
          />
          <TextField
            label="Name to sign in with"
            value={signs}
            onChange={(e) => setSigns(e.target.value)}
            autoComplete="username"
            required
          />
        </>
      )}
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        autoComplete="new-password"
        helperText="Eight signs or more, not only digits, and none that many people use."
        autoFocus={!first}
        required
      />
      {use.isError && (
        <Alert severity="error" icon={false} variant="outlined">
          {wordsOf(use.error).join(" ")}
        </Alert>
      )}
      <Button type="submit" variant="contained" size="medium" loading={use.isPending}>
        {first ? "Begin" : "Set it and sign in"}
      </Button>
    </form>
  );
}
