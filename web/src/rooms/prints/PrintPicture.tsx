import { filmUrl, type PrintCard } from '../../api/prints';
import { isFilm, moves } from './said';

interface PrintPictureProps {
  readonly print: PrintCard;
  readonly label?: string;
}

/** A print that is no film: the picture itself, or what is in its file. */
export function PrintPicture({ print, label = '' }: PrintPictureProps) {
  if (moves(print) || print.form === 'contact')
    return (
      <img
        src={filmUrl(print.id)}
        alt={label}
        className={print.look.transparent ? 'is-clear' : ''}
      />
    );
  const [icon, text] =
    print.form === 'pdf' ? ['file-earmark-pdf', 'PDF'] : ['file-earmark-zip', 'numbered pictures'];
  return (
    <span className="print-file">
      <i className={`bi bi-${icon}`} aria-hidden="true" />
      <span>{text}</span>
    </span>
  );
}

/** The same as a film is on the line: a small picture of it. */
export function PrintThumb({ print, at }: { readonly print: PrintCard; readonly at: number }) {
  if (!isFilm(print)) return <PrintPicture print={print} />;
  return (
    <video
      src={`${filmUrl(print.id)}#t=${at.toFixed(2)}`}
      preload="metadata"
      muted
      playsInline
      tabIndex={-1}
      aria-hidden="true"
    />
  );
}
