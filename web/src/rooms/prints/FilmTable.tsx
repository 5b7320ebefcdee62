import type { CSSProperties } from 'react';
import { filmUrl, type PrintCard } from '../../api/prints';
import { PrintPicture } from './PrintPicture';
import { isFilm } from './said';
import type { Film } from './useFilm';

interface FilmTableProps {
  readonly film: Film;
  readonly print: PrintCard;
  readonly under: PrintCard | null;
  /** How much of the picture the upper print covers, from the right; 0 to 100. */
  readonly pane: number;
  readonly onPane: (pane: number) => void;
}

/** A print, large; with another one under a pane that is drawn across. */
export function FilmTable({ film, print, under, pane, onPane }: FilmTableProps) {
  if (!isFilm(print))
    return (
      <div className="film-table">
        <div className="film-room">
          <div className="print-picture">
            <PrintPicture print={print} label={`${print.name}, rev ${print.revision}`} />
          </div>
        </div>
      </div>
    );
  const cut = under ? { clipPath: `inset(0 0 0 ${100 - pane}%)` } : {};
  return (
    <div className="film-table">
      <div className="film-room">
        <div className="film-picture" style={ratioOf(print)}>
          {under && (
            <video
              key={under.id}
              ref={film.under}
              src={filmUrl(under.id)}
              muted
              playsInline
              preload="auto"
              aria-label={`Under the pane: ${under.name}, rev ${under.revision}`}
            />
          )}
          {/* biome-ignore lint/a11y/useMediaCaption: a pencil test has no words to read */}
          <video
            key={print.id}
            ref={film.over}
            src={filmUrl(print.id)}
            playsInline
            preload="auto"
            style={cut}
            aria-label={`${print.name}, rev ${print.revision}`}
          />
          {under && <i className="pane-edge" style={{ left: `${100 - pane}%` }} />}
        </div>
      </div>
      {under && (
        <input
          type="range"
          className="pane-slide"
          aria-label="The pane: how much the upper print covers"
          min={0}
          max={100}
          value={100 - pane}
          onChange={({ target }) => onPane(100 - Number(target.value))}
        />
      )}
    </div>
  );
}

const ratioOf = ({ look: { width = 16, height = 9 } }: PrintCard) =>
  ({ '--ratio': String(width / height) }) as CSSProperties;
