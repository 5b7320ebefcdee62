import { useQuery } from '@tanstack/react-query';
import { sentence } from '../../../api/client';
import type { Chart, ChartEdit } from '../../../api/lines';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import type { FacePlace } from '../../../stage/faceHand';
import { CHART_SIDES } from '../../library/chartSides';
import { PickOne } from '../../library/NewSheet';
import { bodyQuery } from '../../scene/bodyQuery';
import type { VoiceRoomParts } from '../room';
import { useChartChange } from '../useChartChange';
import type { VoiceMemory } from '../voiceMemory';

const CM = 100;

/** Where a chart’s mouths stand on the face: drawn there, or by numbers; once for all of them. */
export function FaceCard({ room }: { readonly room: VoiceRoomParts }) {
  const { eyesChart, memory, change } = room;
  const isEyes = memory.placed === 'eyes' && eyesChart !== null;
  return (
    <>
      {eyesChart && (
        <Choice<VoiceMemory['placed']>
          label="What is placed"
          value={isEyes ? 'eyes' : 'mouth'}
          onChange={(placed) => change({ placed })}
          options={[
            { value: 'mouth', text: 'Its mouth' },
            { value: 'eyes', text: 'Its eyes' },
          ]}
        />
      )}
      <ChartOnFace chart={isEyes ? eyesChart : room.chart} />
    </>
  );
}

function ChartOnFace({ chart }: { readonly chart: Chart | null }) {
  if (!chart) {
    return (
      <p className="quiet">
        Our ten mouths stand on nobody’s face. Make a chart of them below, on a figure, and place it
        here.
      </p>
    );
  }
  const { place } = chart.chart;
  if (!chart.chart.figure || !place) {
    return (
      <p className="quiet">
        “{chart.name}” stands on nobody’s face. Make a new chart like it below, and choose the
        figure.
      </p>
    );
  }
  return <PlacedOn key={chart.id} chart={chart} place={place} />;
}

function PlacedOn({ chart, place }: { readonly chart: Chart; readonly place: FacePlace }) {
  const { data: body } = useQuery(bodyQuery(chart.chart.figure));
  const { change, undo } = useChartChange(chart);
  const disabled = !chart.may_change;
  const make = (edit: ChartEdit) => change.mutate(edit);
  const stand = (part: Partial<FacePlace>) =>
    make({ kind: 'place_chart', place: { ...place, ...part } });
  const offset = place.offset ?? [0, 0, 0];
  const shift = (axis: 0 | 1 | 2) => (cm: number) => {
    const to = [...offset] as [number, number, number];
    to[axis] = cm / CM;
    stand({ offset: to });
  };
  const joints = body?.joints.map(({ name, label }) => ({ id: name, name: label })) ?? [
    { id: place.joint, name: place.joint },
  ];
  const problem = change.error ?? undo.error;
  return (
    <div className="face-card">
      {!disabled && (
        <p className="quiet">Draw it to its place on the face; its edge makes it wider.</p>
      )}
      <PickOne
        name="On"
        label="The joint that it stands on"
        value={place.joint}
        options={joints}
        disabled={disabled}
        onPick={(joint) => stand({ joint })}
      />
      <FieldLine name="Left, up, ahead">
        <span className="two-numbers">
          <NumberBox
            label="To the figure’s left of its joint, in cm"
            value={CM * offset[0]}
            decimals={1}
            disabled={disabled}
            onCommit={shift(0)}
          />
          <NumberBox
            label="Above its joint, in cm"
            value={CM * offset[1]}
            decimals={1}
            disabled={disabled}
            onCommit={shift(1)}
          />
          <NumberBox
            label="Ahead of its joint, in cm"
            value={CM * offset[2]}
            decimals={1}
            unit="cm"
            disabled={disabled}
            onCommit={shift(2)}
          />
        </span>
      </FieldLine>
      <FieldLine name="Width">
        <NumberBox
          label="Width of the chart, in cm"
          value={CM * (place.width_metres ?? 0.1)}
          decimals={1}
          unit="cm"
          smallest={0.1}
          disabled={disabled}
          onCommit={(cm) => stand({ width_metres: cm / CM })}
        />
      </FieldLine>
      <FieldLine name="Turned left, up">
        <span className="two-numbers">
          <NumberBox
            label="Turned to the figure’s left"
            value={place.heading_degrees ?? 0}
            decimals={0}
            unit="°"
            disabled={disabled}
            onCommit={(degrees) => stand({ heading_degrees: degrees })}
          />
          <NumberBox
            label="Turned up"
            value={place.tilt_degrees ?? 0}
            decimals={0}
            unit="°"
            disabled={disabled}
            onCommit={(degrees) => stand({ tilt_degrees: degrees })}
          />
        </span>
      </FieldLine>
      <PickOne
        name="Seen from"
        label="From where it is seen"
        value={chart.chart.view}
        options={CHART_SIDES}
        disabled={disabled}
        onPick={(view) => make({ kind: 'view_chart', view })}
      />
      {problem ? (
        <p className="refusal" role="alert">
          {sentence(problem)}
        </p>
      ) : null}
      {!disabled && (
        <button
          type="button"
          className="btn btn-paper"
          disabled={!chart.undo || undo.isPending}
          onClick={() => undo.mutate()}
        >
          {chart.undo ? `Undo: ${chart.undo}` : 'Nothing to undo in the chart'}
        </button>
      )}
    </div>
  );
}
