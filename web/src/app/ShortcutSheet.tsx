import { Modal } from 'react-bootstrap';
import type { Group } from './shortcuts';

interface SheetProps {
  readonly groups: readonly Group<string>[];
  readonly byHand: readonly (readonly [string, string])[];
  readonly onClose: () => void;
}

/** The keys of a room, as they are listened for. */
export function ShortcutSheet({ groups, byHand, onClose }: SheetProps) {
  return (
    <Modal show onHide={onClose} size="xl" aria-labelledby="shortcut-title" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="shortcut-title">Keys of this room</Modal.Title>
      </Modal.Header>
      <Modal.Body className="shortcut-sheet" tabIndex={0}>
        {groups.map((group) => (
          <section key={group.name}>
            <h3>{group.name}</h3>
            <dl>
              {group.shortcuts.map(({ action, keys, does }) => (
                <div key={action}>
                  <dt>
                    {keys.map((key) => (
                      <kbd key={key} className="keycap">
                        {key}
                      </kbd>
                    ))}
                  </dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
        <section>
          <h3>By hand</h3>
          <dl className="by-hand">
            {byHand.map(([gesture, does]) => (
              <div key={gesture}>
                <dt>{gesture}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      </Modal.Body>
    </Modal>
  );
}
