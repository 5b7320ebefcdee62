import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useId, useState } from 'react';
import { Dropdown, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { api, type Schemas, sentence } from '../../api/client';
import { useNotices } from '../../app/notices';
import { libraryKey } from './useLibrary';

export interface Kept {
  readonly id: string;
  readonly name: string;
  readonly tags: string[];
  readonly archived: boolean;
  readonly used_in?: Schemas['UsedIn'][];
}

interface MenuProps {
  readonly production: string;
  readonly card: Kept;
  /** Where the document can be taken out as a file. */
  readonly fileUrl?: string;
  /** Where its motion can be taken out for other tools. */
  readonly gltfUrl?: string;
  /** Where what is said can be taken out. */
  readonly wordsUrl?: string;
  /** Where its exposure sheet can be printed. */
  readonly sheetUrl?: string;
}

/** What can be done with a figure, a clip or a scene of the library. */
export function CardMenu({ production, card, fileUrl, gltfUrl, wordsUrl, sheetUrl }: MenuProps) {
  const [sheet, setSheet] = useState<'name' | 'delete' | null>(null);
  const { change, duplicate } = useKeeping(production);
  return (
    <>
      <Dropdown align="end" className="card-menu">
        <Dropdown.Toggle
          bsPrefix="icon-button"
          as="button"
          aria-label={`What to do with ${card.name}`}
        >
          <i className="bi bi-three-dots" aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item as="button" onClick={() => setSheet('name')}>
            Rename and tag …
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => duplicate.mutate(card.id)}>
            Duplicate
          </Dropdown.Item>
          {fileUrl && (
            <Dropdown.Item href={fileUrl} download>
              Take out as a file
            </Dropdown.Item>
          )}
          {gltfUrl && (
            <Dropdown.Item href={gltfUrl} download>
              Take out as glTF
            </Dropdown.Item>
          )}
          {wordsUrl && (
            <>
              <Dropdown.Item href={`${wordsUrl}?form=vtt`} download>
                Take out its words as captions
              </Dropdown.Item>
              <Dropdown.Item href={`${wordsUrl}?form=labels`} download>
                Take out its words as labels
              </Dropdown.Item>
            </>
          )}
          {sheetUrl && (
            <Dropdown.Item href={sheetUrl} download>
              Print its exposure sheet
            </Dropdown.Item>
          )}
          <Dropdown.Item
            as="button"
            onClick={() => change.mutate({ id: card.id, archived: !card.archived })}
          >
            {card.archived ? 'Bring back from the archive' : 'Archive'}
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setSheet('delete')}>
            Delete …
          </Dropdown.Item>
          {card.used_in && card.used_in.length > 0 && (
            <>
              <Dropdown.Divider />
              <div className="dropdown-header">Used in</div>
              {card.used_in.map((scene) => (
                <Dropdown.Item key={scene.id} as={Link} to={`/scenes/${scene.id}`}>
                  {scene.name}
                </Dropdown.Item>
              ))}
            </>
          )}
        </Dropdown.Menu>
      </Dropdown>
      {sheet === 'name' && (
        <NameSheet production={production} card={card} onClose={() => setSheet(null)} />
      )}
      {sheet === 'delete' && (
        <DeleteSheet production={production} card={card} onClose={() => setSheet(null)} />
      )}
    </>
  );
}

type Change = Schemas['DocumentChange'] & { readonly id: string };

function useKeeping(production: string) {
  const queries = useQueryClient();
  const notices = useNotices();
  const settle = () => queries.invalidateQueries({ queryKey: libraryKey(production) });
  const change = useMutation({
    mutationFn: ({ id, ...body }: Change) =>
      api.PATCH('/api/documents/{document_id}', { params: { path: { document_id: id } }, body }),
    onSuccess: settle,
    onError: (problem) => notices.trouble(problem),
  });
  const duplicate = useMutation({
    mutationFn: (id: string) =>
      api.POST('/api/documents/{document_id}/duplicate', {
        params: { path: { document_id: id } },
      }),
    onSuccess: async (made) => {
      await settle();
      notices.say(`${made.data?.name} is in the library.`);
    },
    onError: (problem) => notices.trouble(problem),
  });
  const remove = useMutation({
    mutationFn: (id: string) =>
      api.DELETE('/api/documents/{document_id}', { params: { path: { document_id: id } } }),
    onSuccess: settle,
  });
  return { change, duplicate, remove };
}

interface SheetProps {
  readonly production: string;
  readonly card: Kept;
  readonly onClose: () => void;
}

function NameSheet({ production, card, onClose }: SheetProps) {
  const id = useId();
  const [name, setName] = useState(card.name);
  const [tags, setTags] = useState(card.tags.join(', '));
  const { change } = useKeeping(production);
  const save = (event: FormEvent) => {
    event.preventDefault();
    const wanted: Change = { id: card.id, tags: tags.split(',') };
    if (name.trim() !== card.name) wanted.name = name;
    change.mutate(wanted, { onSuccess: onClose });
  };
  return (
    <Modal show onHide={onClose} aria-labelledby={`${id}-title`}>
      <form onSubmit={save}>
        <Modal.Header closeButton>
          <Modal.Title id={`${id}-title`}>Rename and tag</Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-flex flex-column gap-3">
          <div>
            <label className="form-label" htmlFor={`${id}-name`}>
              Name
            </label>
            <input
              id={`${id}-name`}
              className="form-control"
              value={name}
              maxLength={120}
              required
              onChange={(event) => setName(event.target.value)}
            />
          </div>
          <div>
            <label className="form-label" htmlFor={`${id}-tags`}>
              Tags, with commas between them
            </label>
            <input
              id={`${id}-tags`}
              className="form-control"
              value={tags}
              placeholder="walk, tired"
              onChange={(event) => setTags(event.target.value)}
            />
          </div>
          {change.isError && <p className="refusal">{sentence(change.error)}</p>}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!name.trim()}>
            Save
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}

function DeleteSheet({ production, card, onClose }: SheetProps) {
  const id = useId();
  const { change, remove } = useKeeping(production);
  return (
    <Modal show onHide={onClose} aria-labelledby={id}>
      <Modal.Header closeButton>
        <Modal.Title id={id}>Delete {card.name}?</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {remove.isError ? (
          <p className="refusal" role="alert">
            {sentence(remove.error)}
          </p>
        ) : (
          <p>It goes for good, with its history. Archived, it would only be out of sight.</p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-paper" onClick={onClose}>
          Keep it
        </button>
        {!card.archived && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => change.mutate({ id: card.id, archived: true }, { onSuccess: onClose })}
          >
            Archive it
          </button>
        )}
        {!remove.isError && (
          <button
            type="button"
            className="btn btn-lamp"
            onClick={() => remove.mutate(card.id, { onSuccess: onClose })}
          >
            Delete
          </button>
        )}
      </Modal.Footer>
    </Modal>
  );
}
