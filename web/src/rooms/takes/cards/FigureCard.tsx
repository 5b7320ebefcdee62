import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { proposeOnto } from '../../../api/takes';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { useNotices } from '../../../app/notices';
import { useLibrary } from '../../library/useLibrary';
import type { TakesRoomParts } from '../room';
import { MappingSheet } from './MappingSheet';

const AXES = ['x', 'y', 'z'] as const;

/** Onto a figure: which one, the frame that stands for its rest pose, and joints corrected by degrees. */
export function FigureCard({ room }: { readonly room: TakesRoomParts }) {
  const { take, cleaned, player, onEdit } = room;
  const { onto, figure, figure_name: own } = take.take;
  const library = useLibrary(take.production);
  const notices = useNotices();
  const [joint, setJoint] = useState('');
  const [isFitting, setFitting] = useState(false);
  const propose = useMutation({
    mutationFn: (wanted: string) => proposeOnto(take.id, wanted),
    onSuccess: (found) => onEdit({ kind: 'go_onto', onto: found }),
    onError: (problem) => notices.trouble(problem),
  });
  const figures = library.data?.figures.filter((one) => !one.archived && one.id !== figure) ?? [];
  const mayChange = take.may_change;
  const played = onto ? Object.values(onto.mapping) : [];
  const dropped = onto ? take.take.joints.filter((name) => !(name in onto.mapping)) : [];
  const turned = (onto && joint && onto.corrections[joint]) || [0, 0, 0];
  return (
    <>
      <h2>Onto a figure</h2>
      <FieldLine name="Plays on">
        <select
          className="form-select"
          aria-label="The figure that plays it"
          value={onto?.figure ?? ''}
          disabled={!mayChange}
          onChange={(event) => {
            if (event.target.value) propose.mutate(event.target.value);
            else onEdit({ kind: 'go_onto', onto: null });
          }}
        >
          <option value="">{own}, as captured</option>
          {figures.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </FieldLine>
      {onto && (
        <>
          <p className="quiet">
            {played.length} joints play.
            {dropped.length > 0 && ` Left out: ${dropped.join(', ')}.`}
          </p>
          {mayChange && (
            <button type="button" className="btn btn-paper" onClick={() => setFitting(true)}>
              Which joint plays which …
            </button>
          )}
          {isFitting && (
            <MappingSheet
              room={room}
              figure={onto.figure}
              standing={onto.mapping}
              onFit={(mapping) => {
                setFitting(false);
                onEdit({ kind: 'go_onto', onto: { ...onto, mapping: { ...mapping } } });
              }}
              onClose={() => setFitting(false)}
            />
          )}
          <FieldLine name="Rest pose at source">
            <span className="pair">
              <NumberBox
                label="The frame that stands for the rest pose"
                value={onto.rest_frame ?? 0}
                smallest={0}
                largest={take.take.length_frames - 1}
                disabled={!mayChange || onto.rest_frame === null}
                onCommit={(frame) =>
                  onEdit({ kind: 'go_onto', onto: { ...onto, rest_frame: Math.round(frame) } })
                }
              />
              <Tick
                label="by a frame"
                hint="Bones agree in that frame; else the skeletons’ own rest poses are laid alike"
                checked={onto.rest_frame !== null}
                disabled={!mayChange}
                onChange={(on) => {
                  const here = Math.round(cleaned?.at[player.frame] ?? 0);
                  onEdit({ kind: 'go_onto', onto: { ...onto, rest_frame: on ? here : null } });
                }}
              />
            </span>
          </FieldLine>
          {mayChange && (
            <button
              type="button"
              className="btn btn-paper"
              disabled={propose.isPending}
              onClick={() => propose.mutate(onto.figure)}
            >
              Propose the calibration pose
            </button>
          )}
          <Tick
            label="Hands to the same place beside the body"
            checked={onto.hands}
            disabled={!mayChange}
            onChange={(hands) => onEdit({ kind: 'go_onto', onto: { ...onto, hands } })}
          />
          <FieldLine name="Correct">
            <select
              className="form-select"
              aria-label="The joint to be corrected"
              value={joint}
              onChange={(event) => setJoint(event.target.value)}
            >
              <option value="">a joint …</option>
              {(cleaned?.joints ?? [])
                .map((name, place) => [name, cleaned?.labels[place] ?? name] as const)
                .filter(([name]) => played.includes(name))
                .map(([name, label]) => (
                  <option key={name} value={name}>
                    {label}
                    {name in onto.corrections ? ' ·' : ''}
                  </option>
                ))}
            </select>
          </FieldLine>
          {joint && (
            <p className="card-line">
              {AXES.map((axis, k) => (
                <NumberBox
                  key={axis}
                  label={`About ${axis}`}
                  value={turned[k]}
                  decimals={1}
                  unit={`° ${axis}`}
                  smallest={-180}
                  largest={180}
                  disabled={!mayChange}
                  onCommit={(degrees) => {
                    const next: [number, number, number] = [turned[0], turned[1], turned[2]];
                    next[k] = degrees;
                    onEdit({
                      kind: 'go_onto',
                      onto: { ...onto, corrections: { ...onto.corrections, [joint]: next } },
                    });
                  }}
                />
              ))}
            </p>
          )}
        </>
      )}
    </>
  );
}
