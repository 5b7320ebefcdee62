import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { keepRecipe } from '../../api/takes';
import { IconButton } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { libraryKey, useRecipes } from '../library/useLibrary';
import type { TakesRoomParts } from './room';
import { StepCard } from './StepCard';
import { withTakesKey } from './takesKeys';

interface PanelProps {
  readonly room: TakesRoomParts;
  readonly onRecord: () => void;
}

/** The recipe beside the take: what it is, and each step with what it measured before and after. */
export function RecipePanel({ room, onRecord }: PanelProps) {
  const { take, cleaned, onEdit } = room;
  const sheet = take.take;
  const warnings = sheet.warnings;
  return (
    <aside className="recipe" aria-label="Recipe">
      <div className="sheet-head">
        <h2>Clean the take</h2>
        <span className="grow" />
        {take.may_change && (
          <IconButton
            icon="broadcast"
            label={withTakesKey('Record from the stage', 'record')}
            onClick={onRecord}
          />
        )}
        {take.may_change && (
          <button
            type="button"
            className={`icon-button ${sheet.circled ? 'is-circled' : ''}`}
            aria-pressed={sheet.circled}
            aria-label={sheet.circled ? 'Rub out the circle (O)' : 'Circle the good one (O)'}
            title={sheet.circled ? 'Rub out the circle (O)' : 'Circle the good one (O)'}
            onClick={() => onEdit({ kind: 'circle_take', circled: !sheet.circled })}
          >
            <i className={`bi bi-${sheet.circled ? 'record-circle' : 'circle'}`} />
          </button>
        )}
      </div>
      <p className="take-facts">
        <span>
          <b className="number">{trim(sheet.frames_per_second)}</b> fps
        </span>
        <span>
          <b className="number">{sheet.joints.length}</b> joints
        </span>
        <span>
          <b className="number">{sheet.length_frames.toLocaleString('en')}</b> frames
        </span>
      </p>
      {!sheet.is_light && <WindowLine room={room} />}
      <ol className="steps">
        {sheet.recipe.steps.map((step, place) => (
          <StepCard
            key={step.step}
            room={room}
            step={step}
            place={place}
            seen={cleaned?.reports.find((report) => report.step === step.step) ?? null}
          />
        ))}
      </ol>
      {warnings.map((text) => (
        <p key={text} className="says is-warning">
          {text}
        </p>
      ))}
      <RecipeFoot room={room} />
    </aside>
  );
}

const trim = (value: number) => String(Math.round(value * 1000) / 1000);

/** A long take is cleaned a window at a time: which one. */
function WindowLine({ room }: { readonly room: TakesRoomParts }) {
  const { take, memory, change } = room;
  const { first_window: first, length_frames: length } = take.take;
  const window = memory.window ?? { start: first[0], end: first[1] };
  const size = first[1] - first[0];
  const goTo = (start: number) => {
    const from = Math.max(0, Math.min(length - size, start));
    change({ window: { start: from, end: from + size } });
  };
  return (
    <div className="window-line">
      <input
        type="range"
        aria-label="The window that is cleaned and shown"
        min={0}
        max={Math.max(1, length - size)}
        step={Math.max(1, Math.round(size / 4))}
        value={window.start}
        onChange={(event) => goTo(Number(event.target.value))}
      />
      <span className="quiet">
        shown <span className="number">{window.start}</span> to{' '}
        <span className="number">{window.end}</span> of {length.toLocaleString('en')}
      </span>
    </div>
  );
}

/** Recipes that are kept, and keeping this one. */
function RecipeFoot({ room }: { readonly room: TakesRoomParts }) {
  const { take, onEdit } = room;
  const queries = useQueryClient();
  const notices = useNotices();
  const recipes = useRecipes(take.production).data?.filter((card) => !card.archived);
  const [naming, setNaming] = useState<string | null>(null);
  if (!take.may_change) return null;
  const keep = async (name: string) => {
    setNaming(null);
    try {
      await keepRecipe(take.production, { name, recipe: take.take.recipe });
      await queries.invalidateQueries({ queryKey: libraryKey(take.production) });
      notices.say(`${name} is kept: other takes can use it.`);
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  return (
    <div className="recipe-foot">
      <select
        className="form-select"
        aria-label="Use a recipe"
        value=""
        onChange={(event) => {
          const found = recipes?.find((card) => card.id === event.target.value);
          if (found) onEdit({ kind: 'use_recipe', recipe: found.recipe });
        }}
      >
        <option value="">{take.take.recipe.name}</option>
        {recipes?.map((card) => (
          <option key={card.id} value={card.id}>
            {card.name}
          </option>
        ))}
      </select>
      {naming === null ? (
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => setNaming(take.take.recipe.name)}
        >
          Keep the recipe
        </button>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (naming.trim()) void keep(naming.trim());
          }}
        >
          <input
            className="form-control"
            aria-label="Name of the recipe"
            value={naming}
            maxLength={120}
            // biome-ignore lint/a11y/noAutofocus: the field was asked for
            autoFocus
            onChange={(event) => setNaming(event.target.value)}
            onKeyDown={(event) => event.key === 'Escape' && setNaming(null)}
          />
        </form>
      )}
    </div>
  );
}
