import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { newId } from '../../api/newId';
import { type RecipeCard as Recipe, runRecipe, takeStrip } from '../../api/takes';
import { counted } from '../../app/counted';
import { Name } from '../../app/Name';
import { useNotices } from '../../app/notices';
import { PoseStrip } from '../../stage/Filmstrip';
import { PencilMark } from './ClipFacts';
import { watchJob } from './jobs/useJobs';
import { useRecipes } from './useLibrary';

type Card = Schemas['TakeCard'];
const FRAMES_IN_STRIP = 5;

interface TakeProps {
  readonly take: Card;
  readonly tags: ReactNode;
  readonly menu: ReactNode;
}

/** A take of the library: kept as it came. */
export function TakeCard({ take, tags, menu }: TakeProps) {
  return (
    <div className="slip">
      <span className="line">
        <PencilMark colour={take.colour} />
        <Link className="name" to={`/takes/${take.id}`} title={`${take.name}, to be cleaned`}>
          {take.name}
        </Link>
        <span className="length number">
          {take.length_frames.toLocaleString('en')} fr, {take.length_seconds.toFixed(2)} s
        </span>
      </span>
      <PoseStrip
        figure={take.figure}
        named={['take strip', take.id]}
        poses={() => takeStrip(take.id)}
        count={FRAMES_IN_STRIP}
        label={`${take.name}, five poses as captured`}
      />
      <span className="line mt-2">
        {take.circled && <b className="circled">circled</b>}
        <Name
          className="quiet"
          text={`${take.joints} joints, ${take.rate} fps, ${take.recipe}${take.lost ? `, ${take.lost} frames lost` : ''}`}
        />
      </span>
      {tags}
      {menu}
    </div>
  );
}

interface RunProps {
  readonly production: string;
  readonly takes: readonly Card[];
}

/** One recipe over all the takes that are seen here, as one job. */
export function RunRecipe({ production, takes }: RunProps) {
  const queries = useQueryClient();
  const notices = useNotices();
  const [chosen, setChosen] = useState('');
  const recipes = useRecipes(production).data?.filter((card) => !card.archived);
  const run = useMutation({
    mutationFn: () =>
      runRecipe(production, {
        recipe: chosen || null,
        rate: '24',
        takes: takes.map((take) => take.id),
        token: newId(),
      }),
    onSuccess: (job) => watchJob(queries, production, job),
    onError: (problem) => notices.trouble(problem),
  });
  return (
    <>
      <select
        className="form-select w-auto"
        aria-label="The recipe to run"
        value={chosen}
        onChange={(event) => setChosen(event.target.value)}
      >
        <option value="">House recipe, to 24 fps</option>
        {recipes?.map((card) => (
          <option key={card.id} value={card.id}>
            {card.name}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-paper"
        disabled={run.isPending}
        onClick={() => run.mutate()}
      >
        Run it over {counted(takes.length, 'take')}
      </button>
    </>
  );
}

interface RecipeProps {
  readonly recipe: Recipe;
  readonly menu: ReactNode;
}

/** A recipe that is kept for other takes. */
export function RecipeCard({ recipe, menu }: RecipeProps) {
  const steps = recipe.recipe.steps.filter((step) => step.on);
  return (
    <div className="slip">
      <span className="line">
        <Name className="name" text={recipe.name} />
      </span>
      <span className="line mt-2">
        <Name
          className="quiet"
          text={steps.map((step) => step.step.replace('_', ' ')).join(', ') || 'nothing is done'}
        />
      </span>
      {menu}
    </div>
  );
}
