import { pictureShown } from '../../api/drawings';
import type { DrawingsRoomParts } from './room';

interface Props {
  readonly room: Pick<DrawingsRoomParts, 'drawings' | 'run'>;
  readonly number: number;
}

/** A drawing as small as on a shelf. */
export function SmallDrawing({ room, number }: Props) {
  const drawing = room.drawings.get(number);
  if (!drawing) return <span className="no-picture">?</span>;
  const source = pictureShown(room.run.production, drawing.picture.file, 'small');
  return <img className="small-drawing" src={source} alt="" loading="lazy" draggable={false} />;
}
