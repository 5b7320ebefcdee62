import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { type Schemas, sentence } from '../../../api/client';
import { askReading, newLine, readLine } from '../../../api/lines';
import { newId } from '../../../api/newId';
import type { Sound } from '../../../desk/selection';
import { isUnderWay, useJobHand, useJobs, watchJob } from '../../library/jobs/useJobs';
import { libraryKey, useLibrary } from '../../library/useLibrary';
import type { CardProps } from './card';

type Desk = Schemas['Desk'];
type Library = Schemas['LibraryView'];

interface VoiceProps extends Pick<CardProps, 'scene' | 'desk' | 'onEdit'> {
  readonly lane: string;
  readonly sound: Sound;
}

/** The line that a laid sound says: its text, whose mouth says it, and one button for all of it. */
export function SoundVoice({ scene, desk, lane, sound, onEdit }: VoiceProps) {
  const library = useLibrary(scene.production).data;
  const said = saying(desk, sound.id);
  if (said) {
    return (
      <div className="sound-voice">
        <b>{said.figure} says it</b>
        <Link className="btn btn-paper" to={`/lines/${said.line}`}>
          To its words and mouths
        </Link>
        {scene.may_change && (
          <button
            type="button"
            className="btn btn-paper"
            title="Its stressed, loud syllables as beats, for the body to hit and stints to snap to"
            onClick={() => onEdit({ kind: 'mark_accents', laid: sound.id, colour: 'rose' })}
          >
            Mark its accents as beats
          </button>
        )}
      </div>
    );
  }
  if (!library || !scene.may_change) return null;
  return (
    <Expose
      key={sound.id}
      scene={scene}
      desk={desk}
      lane={lane}
      sound={sound}
      onEdit={onEdit}
      library={library}
    />
  );
}

/** Who says a laid sound already, and by which line. */
function saying(desk: Desk, laid: string): { figure: string; line: string } | null {
  for (const lane of desk.lanes) {
    const stint = lane.stints.find(({ made }) => made.with_sound === laid);
    if (stint?.source.kind === 'line') return { figure: lane.figure_name, line: stint.source.id };
  }
  return null;
}

/** The charts of a figure’s mouth: the one that its mouths are numbered by, and those for other sides. */
function chartsOf(library: Library, figure: string) {
  const own = library.charts.filter(
    (chart) => !chart.archived && chart.part === 'mouth' && chart.figure === figure,
  );
  const first = own.find(({ view }) => view === 'front') ?? own[0];
  return { first, others: own.filter((chart) => chart !== first && chart.view !== first?.view) };
}

const eyesOf = (library: Library, figure: string) =>
  library.charts.find(
    (chart) => !chart.archived && chart.part === 'eyes' && chart.figure === figure,
  );

function Expose({ scene, desk, lane, sound, onEdit, library }: VoiceProps & { library: Library }) {
  const queries = useQueryClient();
  const jobs = useJobs(scene.production);
  const hand = useJobHand(scene.production);
  const speakers = desk.figures.filter((one) => chartsOf(library, one.figure).first);
  const known = library.lines.find((line) => !line.archived && line.sound === sound.sound);
  const [text, setText] = useState(known?.text ?? '');
  const [member, setMember] = useState(speakers[0]?.id ?? '');
  const [asked, setAsked] = useState<{ line: string; job: string } | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const figure = desk.figures.find(({ id }) => id === member);
  const job = jobs.data?.find(({ id }) => id === asked?.job);

  const lay = (line: string, chart: string) => {
    const others = figure ? chartsOf(library, figure.figure).others : [];
    onEdit({
      kind: 'lay_line',
      line,
      sound: sound.sound,
      laid: sound.id,
      sound_lane: lane,
      start: sound.start,
      figure: member,
      part: 'mouth',
      stint: newId(),
      chart,
      other_sides: others.map(({ id }) => id),
      eyes_chart: figure ? (eyesOf(library, figure.figure)?.id ?? null) : null,
    });
  };
  const latest = useRef({ lay, hand });
  latest.current = { lay, hand };
  const chart = figure && chartsOf(library, figure.figure).first?.id;
  useEffect(() => {
    if (!job || !asked || !chart || isUnderWay(job)) return;
    setAsked(null);
    latest.current.hand.putAway(job.id);
    if (job.state === 'done') latest.current.lay(asked.line, chart);
    else setProblem(new Error(job.says.join(' ') || 'The reading was cancelled.'));
  }, [job, asked, chart]);

  const expose = async () => {
    setProblem(null);
    if (!chart || !figure) return;
    try {
      // A line that says the same by the same mouths is there already.
      const same = known?.is_read && known.text === text.trim();
      if (known && same) {
        const { line } = await readLine(known.id);
        if (line.chart === chart) {
          lay(known.id, chart);
          return;
        }
      }
      const made = await newLine(scene.production, {
        sound: sound.sound,
        text,
        speaker: figure.name,
        chart,
        rate: desk.rate,
      });
      await queries.invalidateQueries({ queryKey: libraryKey(scene.production) });
      const begun = await askReading(made.id, {
        rough: !text.trim(),
        again_at: null,
        token: newId(),
      });
      watchJob(queries, scene.production, begun);
      setAsked({ line: made.id, job: begun.id });
    } catch (trouble) {
      setProblem(trouble);
    }
  };
  if (!speakers.length) {
    return (
      <p className="sound-voice quiet">
        No figure of this scene has a mouth chart yet: make one in the library, and a sound can be
        said.
      </p>
    );
  }
  const share = job?.of ? Math.round((100 * job.figure) / job.of) : 0;
  return (
    <div className="sound-voice">
      <textarea
        className="form-control"
        aria-label="What is said"
        placeholder="Paste what is said"
        rows={3}
        value={text}
        disabled={asked !== null}
        onChange={(event) => setText(event.target.value)}
      />
      {speakers.length > 1 && (
        <select
          className="form-select"
          aria-label="Who says it"
          value={member}
          onChange={(event) => setMember(event.target.value)}
        >
          {speakers.map(({ id, name }) => (
            <option key={id} value={id}>
              {name} says it
            </option>
          ))}
        </select>
      )}
      {asked ? (
        <div className="reading-bar" role="status" aria-label="Reading the sound">
          <progress max={100} value={share} />
          <span className="number">{share} %</span>
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => asked && hand.cancel(asked.job)}
          >
            Cancel
          </button>
        </div>
      ) : (
        <button
          type="button"
          className="btn btn-lamp"
          title="Read the sound, and lay the mouths that say it"
          onClick={() => void expose()}
        >
          {text.trim() ? `Expose it on ${figure?.name}` : 'Expose it from the sound alone'}
        </button>
      )}
      {problem !== null && (
        <p className="refusal" role="alert">
          {sentence(problem)}
        </p>
      )}
    </div>
  );
}
