import { Modal } from 'antd';

const KEYS: [string, string][] = [
  ['Enter', 'a new line below'],
  ['Tab, Shift Tab', 'in the variable: into a section or roster, and out again'],
  ['↑ ↓', 'the line above, below'],
  ['Alt ↑, Alt ↓', 'move the line with everything inside'],
  ['/', 'in an empty cell: the kind of line'],
  ['Ctrl D', 'the same line again'],
  ['Ctrl Backspace', 'remove the line with everything inside'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Ctrl Space', 'in a rule: what may come here'],
  ['Ctrl K', 'find or do anything'],
];

export const Shortcuts = ({ onClose }: { onClose: () => void }) => (
  <Modal open title="Keys of the script sheet" footer={null} onCancel={onClose}>
    <dl className="keys">
      {KEYS.map(([key, what]) => (
        <div key={key}>
          <dt>
            <kbd>{key}</kbd>
          </dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  </Modal>
);
