import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { useRef, type ReactNode } from 'react';
import { answered, type Problem } from './client';
import { Notice, refusalText } from './Notice';

interface Props<T> {
  label: string;
  /** Where the file is posted whole, by the file's name where it says so; null while not known. */
  address: string | ((fileName: string, watch: string) => string) | null;
  /** What may be chosen; left out, JSON. */
  accept?: string;
  /** Called with what was made of the file. */
  onTaken: (made: T) => Promise<void>;
  /** Sent without the kind that the browser takes its ending for: many programs end in .nc or .tap. */
  untyped?: boolean;
  /** Shown while it is read, given the key by which that is watched. */
  watched?: (watch: string) => ReactNode;
}

/** Sends a chosen file to the server; what was refused is said in the server's sentence. */
export function FileButton<T extends object = { id: number }>({
  label,
  address,
  accept,
  onTaken,
  untyped = false,
  watched,
}: Props<T>) {
  const input = useRef<HTMLInputElement>(null);
  const sent = useMutation({
    mutationFn: async ({ file, watch }: { file: File; watch: string }) => {
      const where = typeof address === 'function' ? address(file.name, watch) : (address ?? '');
      const sending = untyped ? new Blob([file]) : file;
      const response = await fetch(where, { method: 'POST', body: sending });
      const body = (await response.json()) as T | Problem;
      return answered<T>(
        Promise.resolve(response.ok ? { data: body as T, response } : { error: body, response }),
      );
    },
    onSuccess: onTaken,
  });
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept ?? 'application/json,.json'}
        hidden
        aria-label={label}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) sent.mutate({ file, watch: crypto.randomUUID() });
          e.target.value = '';
        }}
      />
      <Button variant="outlined" disabled={address === null} onClick={() => input.current?.click()}>
        {label}
      </Button>
      {sent.isPending && watched?.(sent.variables.watch)}
      {sent.isError && (
        <Notice kind="refusal" title="That file was not taken">
          {refusalText(sent.error)}
        </Notice>
      )}
    </>
  );
}
