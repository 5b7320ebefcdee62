import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { figureFrames } from '../../api/client';
import { type PosedFigure, poseIn } from '../../api/framePack';
import { useNotices } from '../../app/notices';
import { costumeQuery } from '../../stage/Filmstrip';
import { type FacePlace, faceHand } from '../../stage/faceHand';
import type { VoiceRoomParts } from './room';
import { useChartChange } from './useChartChange';

/** A figure in its rest pose, dressed. */
export function useFigureAtRest(figure: string | null) {
  const costume = useQuery({ ...costumeQuery(figure ?? ''), enabled: figure !== null });
  const rest = useQuery({
    queryKey: ['rest', figure],
    queryFn: () => figureFrames(figure ?? ''),
    enabled: figure !== null,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const pose = useMemo(
    (): PosedFigure | null => (rest.data ? poseIn(rest.data, 'figure', 0) : null),
    [rest.data],
  );
  return { dressed: costume.data, pose };
}

/** The charts of mouth and eyes, one of them as it is being placed on the face while its card shows, and the hand that does it. */
export function usePlacing({ chart, eyesChart, memory }: VoiceRoomParts) {
  const isEyes = memory.placed === 'eyes' && eyesChart !== null;
  const target = isEyes ? eyesChart : chart;
  const [drawn, setDrawn] = useState<FacePlace | null>(null);
  const { dressed, pose } = useFigureAtRest(target?.chart.figure || null);
  const notices = useNotices();
  const { change } = useChartChange(target);
  const { mutateAsync } = change;
  const shown = useMemo(
    () => (target && drawn ? { ...target, chart: { ...target.chart, place: drawn } } : target),
    [target, drawn],
  );
  const isPlaced = memory.tab === 'face' && !!target?.may_change && !!target.chart.place;
  const hand = useMemo(() => {
    if (!isPlaced || !shown || !dressed || !pose) return undefined;
    return faceHand({
      costume: dressed,
      pose,
      chart: shown.chart,
      onPlace: (place, done) => {
        setDrawn(place);
        if (!done) return;
        mutateAsync({ kind: 'place_chart', place })
          .catch(notices.trouble)
          .finally(() => setDrawn(null));
      },
      onCancel: () => setDrawn(null),
    });
  }, [isPlaced, shown, dressed, pose, mutateAsync, notices]);
  return { chart: isEyes ? chart : shown, eyesChart: isEyes ? shown : eyesChart, hand };
}
