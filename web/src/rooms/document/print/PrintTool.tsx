import { IconButton } from '../../../app/controls';
import { PrintSheet } from './PrintSheet';
import type { Printing } from './usePrinting';

interface PrintToolProps {
  readonly printing: Printing;
  readonly label: string;
}

/** The button that prints what is open, and its sheet. */
export function PrintTool({ printing, label }: PrintToolProps) {
  return (
    <>
      <IconButton icon="film" label={label} onClick={() => printing.setOpen(true)} />
      {printing.isOpen && <PrintSheet printing={printing} />}
    </>
  );
}
