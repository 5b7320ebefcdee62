import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { answered, api, type Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { isSoundFile, type SoundCard, sendSound } from '../../../api/sounds';
import { useNotices } from '../../../app/notices';
import type { DeskHit } from '../../../desk/TimeDesk';
import { isUnderWay, type Job } from '../../library/jobs/useJobs';
import { libraryKey } from '../../library/useLibrary';
import type { Edit, SceneState } from '../useScene';

/** A sound on its way to the desk, and the names of what it becomes there. */
export interface SoundToLay {
  readonly sound: Pick<SoundCard, 'id' | 'name' | 'length_seconds'>;
  readonly laid: string;
  readonly newLane: string;
}

/** A file on its way in: how much of it is sent, from 0 to 1, and then what reads it where that takes long. */
export interface Coming {
  readonly name: string;
  readonly share: number;
  readonly job: Job | null;
}

const LOOK_AGAIN_MS = 400;
const jobPath = (id: string) => ({ params: { path: { job_id: id } } });

interface SoundsOf {
  readonly production: string;
  readonly desk: Schemas['Desk'];
  readonly state: SceneState;
  readonly mayChange: boolean;
  /** The sound lane that is chosen, if one is. */
  readonly chosenLane: string | null;
  readonly onLaid: (laid: string) => void;
}

/** Sounds laid on the desk: from the drawer, or from files that are brought in on the way. */
export function useSounds({ production, desk, state, mayChange, chosenLane, onLaid }: SoundsOf) {
  const notices = useNotices();
  const queries = useQueryClient();
  const [target, setTarget] = useState<DeskHit | null>(null);
  const [coming, setComing] = useState<Coming | null>(null);
  const abort = useRef<AbortController | null>(null);
  const fresh = (sound: SoundToLay['sound']): SoundToLay => ({
    sound,
    laid: newId(),
    newLane: newId(),
  });
  const isThere = (id: string | null) => desk.sound_lanes.some((lane) => lane.id === id);
  const edit = ({ sound, laid, newLane }: SoundToLay, hit: DeskHit): Edit => ({
    kind: 'lay_sound',
    laid,
    sound: sound.id,
    lane: hit.soundLane && isThere(hit.soundLane) ? hit.soundLane : newLane,
    start: Math.max(0, Math.round(hit.frame)),
  });
  const lay = (wanted: SoundToLay, hit: DeskHit) => {
    state.edit(edit(wanted, hit));
    onLaid(wanted.laid);
  };
  const atPlayhead = (frame: number): DeskHit => ({ lane: null, soundLane: chosenLane, frame });

  /** A large file is decoded by a job: it is watched until it is done. */
  const decoded = async (name: string, job: Job): Promise<string> => {
    let now = job;
    while (isUnderWay(now)) {
      setComing({ name, share: 1, job: now });
      await new Promise((done) => setTimeout(done, LOOK_AGAIN_MS));
      now = await answered(api.GET('/api/jobs/{job_id}', jobPath(job.id)));
    }
    await api.POST('/api/jobs/{job_id}/seen', jobPath(job.id));
    if (!now.sound) throw new Error(now.says.join(' ') || 'Cancelled.');
    return now.sound;
  };

  const bringIn = async (file: File): Promise<SoundToLay['sound'] | null> => {
    const stop = new AbortController();
    abort.current = stop;
    setComing({ name: file.name, share: 0, job: null });
    try {
      const onProgress = (share: number) => setComing({ name: file.name, share, job: null });
      const sent = await sendSound(production, file, onProgress, stop.signal);
      const id = 'state' in sent ? await decoded(file.name, sent) : sent.id;
      await queries.invalidateQueries({ queryKey: libraryKey(production) });
      const library = queries.getQueryData<Schemas['LibraryView']>(libraryKey(production));
      return library?.sounds.find((sound) => sound.id === id) ?? null;
    } catch (problem) {
      if (!stop.signal.aborted) notices.trouble(problem);
      return null;
    } finally {
      setComing(null);
    }
  };

  return {
    target,
    coming,
    fresh,
    over: (wanted: SoundToLay, hit: DeskHit | null) => {
      setTarget(hit);
      state.showPreview(hit && edit(wanted, hit));
    },
    drop: (wanted: SoundToLay, hit: DeskHit | null) => {
      setTarget(null);
      if (hit) lay(wanted, hit);
      else state.showPreview(null);
    },
    letGo: () => {
      setTarget(null);
      state.showPreview(null);
    },
    place: (wanted: SoundToLay, frame: number) => lay(wanted, atPlayhead(frame)),
    cancel: () => {
      if (coming?.job) void api.POST('/api/jobs/{job_id}/cancel', jobPath(coming.job.id));
      else abort.current?.abort();
    },
    /** Files that were dropped on the desk, or chosen: each is brought in and laid where the one before ends. */
    layFiles: async (files: readonly File[], hit: DeskHit | number) => {
      if (!mayChange || !files.length) return;
      const strange = files.find((file) => !isSoundFile(file));
      if (strange) {
        notices.trouble(
          new Error(`“${strange.name}” is no sound. Motion is brought in on the library’s page.`),
        );
        return;
      }
      const lane = newId();
      let at = typeof hit === 'number' ? atPlayhead(hit) : hit;
      for (const file of files) {
        const sound = await bringIn(file);
        if (!sound) return;
        lay({ ...fresh(sound), newLane: lane }, at);
        // The next one goes to the lane that the first one made.
        const frame = at.frame + sound.length_seconds * desk.frames_per_second;
        at = { ...at, frame, soundLane: at.soundLane ?? lane };
      }
    },
  };
}
