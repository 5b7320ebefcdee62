import { useRef } from 'react';
import { Dropdown } from 'react-bootstrap';
import { lineSheetUrl, sheetChanges } from '../../../api/lines';
import { useNotices } from '../../../app/notices';
import type { VoiceRoomParts } from '../room';

/** The sheet on paper, out as CSV, and in again as it was changed elsewhere. */
export function SheetTools({ room }: { readonly room: VoiceRoomParts }) {
  const { line, onEdit } = room;
  const notices = useNotices();
  const picker = useRef<HTMLInputElement>(null);
  const open = async (file: File | undefined) => {
    if (!file) return;
    try {
      onEdit(await sheetChanges(line.id, await file.text()));
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept=".csv,text/csv"
        hidden
        data-testid="sheet-file"
        onChange={(event) => {
          void open(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <Dropdown align="end">
        <Dropdown.Toggle bsPrefix="icon-button" as="button" aria-label="What to do with the sheet">
          <i className="bi bi-three-dots" aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item href={lineSheetUrl(line.id, 'pdf')} download>
            Print it, as PDF
          </Dropdown.Item>
          <Dropdown.Item href={lineSheetUrl(line.id, 'csv')} download>
            Take it out as CSV
          </Dropdown.Item>
          {line.may_change && (
            <Dropdown.Item as="button" onClick={() => picker.current?.click()}>
              Open it again from CSV …
            </Dropdown.Item>
          )}
        </Dropdown.Menu>
      </Dropdown>
    </>
  );
}
