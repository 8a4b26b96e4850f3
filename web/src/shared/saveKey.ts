import type { KeyboardEvent } from "react";

/** Control or Meta with Enter, anywhere in what is edited, saves it. */
export function saveKey(save: () => void) {
  return (event: KeyboardEvent) => {
    if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    event.stopPropagation();
    save();
  };
}
