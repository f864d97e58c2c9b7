/** Actions on the whole kit: rename, save under another name, show in the library. */

import { Box, MoreHorizontal } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { post } from '../../api/calls';
import { AsksName } from '../../ui/AsksName';
import { Panel } from '../../ui/Panel';
import { useKit } from '../kit/kitStore';
import { useWrite } from '../kit/writes';

export function ThisKit() {
  const id = useKit((s) => s.kit?.id);
  const ships = useKit((s) => s.kit?.ships);
  const name = useKit((s) => s.kit?.head.name ?? '');
  if (!id) return null;
  return (
    <Panel
      label="This kit"
      title={ships ? 'Ships with Zesty Skin: your first change makes a copy of your own' : 'This kit'}
      buttonClass="-ml-3 flex h-7 items-center rounded-md px-1.5 text-soft hover:bg-sunk"
      button={
        ships ? (
          <Box size={15} aria-label="This kit, which ships" />
        ) : (
          <MoreHorizontal size={15} aria-label="This kit" />
        )
      }
      className="grid w-[280px] gap-2 p-3.5"
    >
      {(close) => <Within id={id} name={name} ships={ships === true} onDone={close} />}
    </Panel>
  );
}

function Within({ id, name, ships, onDone }: { id: string; name: string; ships: boolean; onDone: () => void }) {
  const navigate = useNavigate();
  const [refused, setRefused] = useState<string | null>(null);
  const saving = async (name: string) => {
    const copy = await post('/api/library/{kind}/{thing_id}/duplicate', { kind: 'kits', thing_id: id }, { name });
    onDone();
    navigate(`/kits/${copy.id}/layers`);
  };
  const { send: saveAs } = useWrite(saving, { changes: ['kits'], refused: setRefused });
  return (
    <>
      {ships && (
        <p className="text-small text-soft">It ships with Zesty Skin. Your first change makes a copy of your own.</p>
      )}
      <AsksName label="Save as" says="Save as…" onName={(given) => void saveAs(given)} />
      {!ships && (
        <AsksName
          label="Name of the kit"
          says="Rename"
          value={name}
          onName={(given) => void useKit.getState().edit({ kind: 'rename_kit', name: given })}
        />
      )}
      <Link className="link" to={`/?look=${id}`}>
        Versions, description and tags
      </Link>
      {refused && <p role="alert">{refused}</p>}
    </>
  );
}
