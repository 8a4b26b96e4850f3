import Button from "@mui/material/Button";
import { useRef } from "react";

interface FileButtonProps {
  children: React.ReactNode;
  accept: string;
  loading: boolean;
  variant?: "contained" | "outlined" | "text";
  onFile: (file: File) => void;
}

/** A button by which a file is chosen. */
export function FileButton({ children, accept, loading, variant = "outlined", onFile }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button
        variant={variant}
        color={variant === "contained" ? "primary" : "inherit"}
        loading={loading}
        onClick={() => input.current?.click()}
      >
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) onFile(file);
          e.target.value = "";
        }}
      />
    </>
  );
}
