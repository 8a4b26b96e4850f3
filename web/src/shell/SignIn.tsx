import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { wordsOf } from "../shared/Says";
import { useSignIn } from "../shared/useSession";
import styles from "./SignIn.module.css";

export function SignIn() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useSignIn();
  return (
    <main className={styles.page}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate({ name, password });
        }}
      >
        <h1>Amber Key</h1>
        <p>Every press, where it goes and why.</p>
        <TextField
          label="Name"
          value={name}
          onChange={(e) => setName(e.target.value)}
          autoComplete="username"
          autoFocus
          required
        />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
          required
        />
        {signIn.isError && (
          <Alert severity="error" icon={false} variant="outlined">
            {wordsOf(signIn.error).join(" ")}
          </Alert>
        )}
        <Button type="submit" variant="contained" size="medium" loading={signIn.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
