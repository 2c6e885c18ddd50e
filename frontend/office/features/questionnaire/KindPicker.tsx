import { Input, Modal } from 'antd';
import { useState } from 'react';
import type { Kind } from './model';

/** Choosing the kind of a line by typing its first letters. */
export function KindPicker({ kinds, present, onPick, onClose }: { kinds: Kind[]; present: string; onPick: (kind: string) => void; onClose: () => void }) {
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState(0);
  const found = kinds.filter((k) => k.name.includes(text.trim().toLowerCase()));
  return (
    <Modal open closable={false} footer={null} width={340} style={{ top: 120 }} onCancel={onClose}>
      <Input
        autoFocus
        placeholder="Kind of line"
        aria-label="Kind of line"
        value={text}
        onChange={(event) => { setText(event.target.value); setChosen(0); }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setChosen(Math.min(chosen + 1, found.length - 1));
          else if (event.key === 'ArrowUp') setChosen(Math.max(chosen - 1, 0));
          else if (event.key === 'Enter') { const kind = found[chosen]; if (kind) onPick(kind.name); }
          else return;
          event.preventDefault();
        }}
      />
      <ul className="found" role="listbox">
        {found.map((k, i) => (
          <li key={k.name} ref={i === chosen ? (line) => { line?.scrollIntoView({ block: 'nearest' }); } : undefined} role="option" aria-selected={i === chosen} onMouseEnter={() => { setChosen(i); }} onClick={() => { onPick(k.name); }}>
            <span><span className="script-kind inline">{k.glyph}</span> {k.name}</span>{k.name === present && <span className="muted">now</span>}
          </li>
        ))}
      </ul>
    </Modal>
  );
}
