import Button, { type ButtonProps } from "@mui/material/Button";
import { useRef } from "react";

interface Props extends Omit<ButtonProps, "onClick"> {
  /** What the file is for. */
  label: string;
  accept: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that lets files be chosen. */
export function FileButton({ label, accept, multiple = false, onFiles, children, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => input.current?.click()}>{children}</Button>
      <input ref={input} type="file" hidden aria-label={label} accept={accept} multiple={multiple} tabIndex={-1}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = "";
          if (files.length > 0) onFiles(files);
        }} />
    </>
  );
}
