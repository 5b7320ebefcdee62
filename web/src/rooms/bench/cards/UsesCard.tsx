import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Clip, ownCopy } from '../../../api/clips';
import { useNotices } from '../../../app/notices';
import { SceneStrip } from '../../../stage/Filmstrip';
import { libraryKey, useLibrary } from '../../library/useLibrary';

/** The scenes that use this clip: a change shows there at once, or in a copy of one's own. */
export function UsesCard({ clip }: { clip: Clip }) {
  const library = useLibrary(clip.production);
  const queries = useQueryClient();
  const notices = useNotices();
  const go = useNavigate();
  const [busy, setBusy] = useState(false);
  if (!clip.used_in.length) {
    return (
      <p className="quiet">
        No scene uses this clip yet. Draw it from a scene’s drawer to its desk.
      </p>
    );
  }
  const copyFor = async (scene: string, name: string) => {
    setBusy(true);
    try {
      const copy = await ownCopy(clip.id, scene);
      await queries.invalidateQueries({ queryKey: libraryKey(clip.production) });
      notices.say(`${name} plays a copy of its own now; this is it.`);
      go(`/clips/${copy}`);
    } catch (problem) {
      notices.trouble(problem);
      setBusy(false);
    }
  };
  return (
    <>
      <p className="quiet">What you change here shows at once in:</p>
      <ul className="use-list">
        {clip.used_in.map((use) => {
          const scene = library.data?.scenes.find((other) => other.id === use.id);
          const member = scene?.figures.find((figure) => figure.figure === clip.bench.figure);
          return (
            <li key={use.id}>
              <Link to={`/scenes/${use.id}`}>{use.name}</Link>
              {scene && member && (
                <SceneStrip
                  scene={scene.id}
                  figure={member.figure}
                  member={member.id}
                  length={scene.length_frames}
                  changed={`${scene.changed} ${clip.revision}`}
                  label={`${use.name}, six moments`}
                />
              )}
              {clip.may_change && (
                <button
                  type="button"
                  className="btn btn-paper"
                  disabled={busy}
                  title="Only this scene will follow what you change then"
                  onClick={() => copyFor(use.id, use.name)}
                >
                  Its own copy
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
