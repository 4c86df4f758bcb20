import { useRef } from "react";

/** A hidden field that asks for one file when it is opened; the same file can be chosen again. */
export function useFileChooser(label: string, accept: string, onFile: (file: File) => void) {
  const field = useRef<HTMLInputElement>(null);
  return {
    open: () => field.current?.click(),
    field: (
      <input
        ref={field}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) onFile(file);
        }}
      />
    ),
  };
}
