// Codes put into an order: tapped one after the other, then dragged where they belong, or moved by keyboard.
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { AnswerProps } from './props';

const MOUSE_PX = 4;
/** A finger that only passes by scrolls. */
const TOUCH = { delay: 120, tolerance: 8 };

export function Ranking({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const ranked = Array.isArray(screen.value) ? screen.value.filter((v): v is string => typeof v === 'string') : [];
  const labels = new Map(screen.codes.map((option) => [option.code, option.label]));
  const put = (next: string[]) => {
    onAnswer(next.length > 0 ? next : null);
  };
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: MOUSE_PX } }),
    useSensor(TouchSensor, { activationConstraint: TOUCH }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (over === null || active.id === over.id) return;
    put(arrayMove(ranked, ranked.indexOf(String(active.id)), ranked.indexOf(String(over.id))));
  };
  const left = screen.codes.filter((option) => !ranked.includes(option.code));
  const isFull = screen.most !== null && ranked.length >= screen.most;
  return (
    <div role="group" aria-labelledby={labelledBy}>
      <p className="question-instruction">{t(ranked.length > 1 ? 'rankMove' : 'rankHint')}</p>
      {ranked.length > 0 && (
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
          <SortableContext items={ranked} strategy={verticalListSortingStrategy}>
            <ol className="choices" aria-label={t('rankOrder')}>
              {ranked.map((code, at) => (
                <Ranked
                  key={code}
                  code={code}
                  label={labels.get(code) ?? code}
                  place={at + 1}
                  takeOut={t('takeOut', { label: labels.get(code) ?? code })}
                  onTakeOut={() => {
                    put(ranked.filter((one) => one !== code));
                  }}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
      )}
      <div className="choices">
        {left.map((option) => (
          <button
            key={option.code}
            type="button"
            className="choice"
            disabled={isFull}
            onClick={() => {
              put([...ranked, option.code]);
            }}
          >
            <span className="mark rank" aria-hidden />
            <span>{option.label}</span>
          </button>
        ))}
      </div>
    </div>
  );
}

interface RankedProps {
  code: string;
  label: string;
  place: number;
  takeOut: string;
  onTakeOut: () => void;
}

function Ranked({ code, label, place, takeOut, onTakeOut }: RankedProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: code });
  // A drag is not a swipe to the next question.
  const still = (event: { stopPropagation: () => void }) => {
    event.stopPropagation();
  };
  return (
    <li
      ref={setNodeRef}
      className={isDragging ? 'choice on ranked held' : 'choice on ranked'}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onTouchStart={still}
    >
      <button type="button" className="ranked-handle" {...attributes} {...listeners}>
        <span className="mark rank">{place}</span>
        <span>{label}</span>
        <span className="grip" aria-hidden>
          ⠿
        </span>
      </button>
      <button type="button" className="ranked-out" aria-label={takeOut} onClick={onTakeOut}>
        ×
      </button>
    </li>
  );
}
