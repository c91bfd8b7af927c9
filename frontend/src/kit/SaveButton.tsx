import Button, { type ButtonProps } from '@mui/material/Button';
import { useStillReading } from './reading';

/** A button that saves what was typed: it stands still while a number still waits to be read, so that none is left behind. */
export function SaveButton({ disabled, ...rest }: ButtonProps) {
  const reading = useStillReading();
  return <Button variant="contained" {...rest} disabled={reading || disabled === true} />;
}
