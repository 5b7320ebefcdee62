import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { Choice, FieldLine, Tick } from '../../app/controls';
import { counted } from '../../app/counted';
import { GhostChoice } from '../../stage/GhostChoice';
import { GhostFields } from '../../stage/GhostFields';
import type { StageView } from '../../stage/scene';
import { ViewChoice } from '../../stage/ViewChoice';
import { withBenchKey } from './benchKeys';
import type { BenchMemory } from './benchMemory';
import { ShapeMenu } from './ShapeMenu';
import { TracingMenu } from './TracingMenu';

interface BenchBarProps {
  readonly clip: Clip;
  readonly memory: BenchMemory;
  readonly keys: Chosen;
  readonly joints: readonly string[];
  readonly onView: (part: Partial<StageView>) => void;
  readonly onChange: (part: Partial<BenchMemory>) => void;
  readonly onFrameFigure: () => void;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
}

/** What of the clip is seen on the stage, and from where. */
export function BenchBar(props: BenchBarProps) {
  const { clip, memory, onView, onChange, onFrameFigure, onEdit, onPreview } = props;
  const { view } = memory;
  const { ghosts, arcs } = view;
  const setGhosts = (part: Partial<StageView['ghosts']>) =>
    onView({ ghosts: { ...ghosts, ...part } });
  const where = ghosts.spread ? 'spread' : 'in place';
  return (
    <div className="stage-bar">
      <ViewChoice
        view={view}
        onView={onView}
        frameLabel={withBenchKey('Bring the figure to the middle', 'frameFigure')}
        onFrameFigure={onFrameFigure}
      />
      <TracingMenu
        clip={clip}
        orbit={view.orbit}
        shown={memory.tracing}
        onShown={(tracing) => onChange({ tracing })}
        onOrbit={(orbit) => onView({ orbit })}
        onEdit={onEdit}
        onPreview={onPreview}
      />
      <ShapeMenu
        clip={clip}
        keys={props.keys}
        joints={props.joints}
        snap={memory.snap}
        onEdit={onEdit}
        onPreview={onPreview}
      />
      <span className="grow" />
      <GhostChoice
        ghosts={ghosts}
        onGhosts={setGhosts}
        hint={withBenchKey('Neighbouring poses drawn through', 'ghosts')}
        name={`Ghosts: ${ghosts.count} ${ghosts.ofKeys ? 'keys' : 'frames'} on either side, ${where}`}
        short={`${ghosts.ofKeys ? counted(ghosts.count, 'key') : `${ghosts.count} × ${ghosts.step} fr`}, ${where}`}
      >
        <FieldLine name="Ghosts of">
          <Choice<'keys' | 'frames'>
            label="Ghosts of"
            value={ghosts.ofKeys ? 'keys' : 'frames'}
            onChange={(of) => setGhosts({ ofKeys: of === 'keys' })}
            options={[
              {
                value: 'keys',
                text: 'keys',
                hint: withBenchKey('The keys on either side', 'ghostKind'),
              },
              {
                value: 'frames',
                text: 'frames',
                hint: withBenchKey('Frames so far apart', 'ghostKind'),
              },
            ]}
          />
        </FieldLine>
        <FieldLine name="They stand">
          <Choice<'place' | 'spread'>
            label="Where ghosts stand"
            value={ghosts.spread ? 'spread' : 'place'}
            onChange={(chosen) => setGhosts({ spread: chosen === 'spread' })}
            options={[
              {
                value: 'place',
                text: 'in place',
                hint: withBenchKey('Where they are', 'spread'),
              },
              { value: 'spread', text: 'spread', hint: withBenchKey('Side by side', 'spread') },
            ]}
          />
        </FieldLine>
        <GhostFields ghosts={ghosts} onGhosts={setGhosts} />
      </GhostChoice>
      <Tick
        label="Arcs"
        hint={withBenchKey('The paths of the chosen joints', 'arcs')}
        checked={arcs.shown}
        onChange={(shown) => onView({ arcs: { ...arcs, shown } })}
      />
      <Tick
        label="Joints"
        hint={withBenchKey('Joints on the figure', 'joints')}
        checked={memory.joints}
        onChange={(joints) => onChange({ joints })}
      />
      <Tick
        label="Both sides"
        hint={withBenchKey('The other side is posed along, mirrored', 'bothSides')}
        checked={memory.bothSides}
        onChange={(bothSides) => onChange({ bothSides })}
      />
    </div>
  );
}
