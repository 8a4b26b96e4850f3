import TextField from "@mui/material/TextField";
import { useEffect, useRef, useState } from "react";

interface WordsProps {
  id?: string;
  value: string;
  onChange: (words: string) => void;
  placeholder?: string;
  width: number;
}

/** A field for words to look for, where they are kept in the address: that follows a moment later than fingers type. */
export function Words({ id, value, onChange, placeholder, width }: WordsProps) {
  const [text, setText] = useState(value);
  const sent = useRef(value);
  useEffect(() => {
    // The address was changed by somebody else, as by going back.
    if (value !== sent.current) {
      sent.current = value;
      setText(value);
    }
  }, [value]);
  return (
    <TextField
      id={id}
      label="Words"
      value={text}
      placeholder={placeholder}
      onChange={(e) => {
        setText(e.target.value);
        sent.current = e.target.value;
        onChange(e.target.value);
      }}
      sx={{ width }}
    />
  );
}
