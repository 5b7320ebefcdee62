import { useMemo } from 'react';
import type { Exposed } from '../../../api/lines';
import {
  ExposureSheet,
  type SheetColumn,
  type SheetDrawing,
} from '../../../desk/sheet/ExposureSheet';
import { MouthImage } from '../EitherSide';
import { FIRST_FRAME } from '../firstFrame';
import type { VoiceRoomParts } from '../room';
import { byRow } from '../spoken';
import { SheetTools } from './SheetTools';

interface Props {
  readonly room: VoiceRoomParts;
  readonly noteOn: number | null;
  readonly onNote: (frame: number | null) => void;
}

const drawnOf = (run: readonly Exposed[]): SheetDrawing[] =>
  run.map(({ frame, length, drawing, mouth, reason }) => ({
    frame,
    length,
    drawing,
    key: mouth,
    isByHand: reason === 'by hand',
  }));

/** The line on its exposure sheet. */
export function LineSheetPanel({ room, noteOn, onNote }: Props) {
  const { sheet, line, player, rows, onRows, onEdit } = room;
  const { asked, pictures, eyesChart, eyePictures } = room;
  const words = useMemo(() => byRow(sheet.words_on), [sheet.words_on]);
  const phones = useMemo(() => byRow(sheet.phones_on), [sheet.phones_on]);
  const notes = useMemo(
    () => new Map(sheet.notes.map(({ frame, text }) => [frame, text])),
    [sheet.notes],
  );
  const columns = useMemo(
    (): SheetColumn[] => [
      {
        name: 'Mouth',
        run: drawnOf(sheet.run),
        asked,
        picture: (key) => <MouthImage picture={pictures.get(key)} />,
      },
      ...(eyesChart || sheet.blinks.length
        ? [
            {
              name: 'Eyes',
              run: drawnOf(sheet.eyes),
              picture: (key: string) => <MouthImage picture={eyePictures.get(key)} />,
            },
          ]
        : []),
    ],
    [asked, sheet.run, sheet.eyes, sheet.blinks, eyesChart, pictures, eyePictures],
  );
  return (
    <ExposureSheet
      title={line.name}
      frames={sheet.frames}
      firstFrame={FIRST_FRAME}
      framesPerSecond={sheet.fps}
      notes={notes}
      words={words}
      phones={phones}
      columns={columns}
      player={player}
      rows={rows}
      onRows={onRows}
      noteOn={noteOn}
      onNote={onNote}
      tools={<SheetTools room={room} />}
      onNoteWritten={(frame, text) => onEdit({ kind: 'write_note', frame, text })}
    />
  );
}
