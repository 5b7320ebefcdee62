import { useMemo } from 'react';
import { Dropdown } from 'react-bootstrap';
import { runSheetUrl } from '../../api/drawings';
import { ExposureSheet, type SheetColumn } from '../../desk/sheet/ExposureSheet';
import { type DrawingsRoomParts, FIRST_FRAME } from './room';
import { SmallDrawing } from './SmallDrawing';

/** The run on its exposure sheet. */
export function RunSheetPanel({ room }: { readonly room: DrawingsRoomParts }) {
  const { sheet, run, player, rows, onRows, drawings } = room;
  const columns = useMemo((): SheetColumn[] => {
    const pinned = new Set(sheet.run.pins?.map(({ frame }) => frame));
    return [
      {
        name: 'Drawing',
        isTall: true,
        run: sheet.shown.map(({ frame, length, drawing }) => ({
          frame,
          length,
          drawing,
          key: String(drawing),
          isByHand: pinned.has(frame),
        })),
        picture: (key) => <SmallDrawing room={{ drawings, run }} number={Number(key)} />,
      },
    ];
  }, [sheet.shown, sheet.run.pins, drawings, run]);
  const notes = useMemo(() => {
    const found = new Map<number, string>();
    sheet.rounds.forEach((frame, place) => {
      found.set(frame, `round ${place + 2}`);
    });
    for (const { frame, drawing } of sheet.run.pins ?? [])
      found.set(frame, `pin: ${drawing} at ${frame + FIRST_FRAME}`);
    return found;
  }, [sheet.rounds, sheet.run.pins]);
  return (
    <ExposureSheet
      title={run.name}
      frames={sheet.frames}
      firstFrame={FIRST_FRAME}
      framesPerSecond={room.fps}
      notes={notes}
      columns={columns}
      player={player}
      rows={rows}
      onRows={onRows}
      tools={
        <Dropdown align="end">
          <Dropdown.Toggle
            bsPrefix="icon-button"
            as="button"
            aria-label="What to do with the sheet"
          >
            <i className="bi bi-three-dots" aria-hidden="true" />
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item href={runSheetUrl(run.id, 'pdf')} download>
              Print it, as PDF
            </Dropdown.Item>
            <Dropdown.Item href={runSheetUrl(run.id, 'csv')} download>
              Take it out as CSV
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      }
    />
  );
}
