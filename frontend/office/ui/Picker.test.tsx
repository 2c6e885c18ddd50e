import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { Picker } from './Picker';

const WORDS = ['well', 'wheel', 'wire'];

function shown(onPick = vi.fn()) {
  render(
    <Picker
      label="Word"
      placeholder="a word"
      top={0}
      search={(text) => WORDS.filter((w) => w.includes(text))}
      keyOf={(w) => w}
      onPick={onPick}
      onClose={vi.fn()}
    >
      {(word) => word}
    </Picker>,
  );
  return { onPick, field: screen.getByRole('combobox', { name: 'Word' }) };
}

const active = (field: HTMLElement) =>
  document.getElementById(field.getAttribute('aria-activedescendant') ?? '')?.textContent;

it('moves through what was found with the arrow keys and takes it with Enter, the focus in the field all the while', async () => {
  const { onPick, field } = shown();
  await userEvent.type(field, 'wh{Backspace}');
  expect(screen.getAllByRole('option').map((option) => option.textContent)).toEqual(WORDS);
  await userEvent.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}{ArrowUp}');
  expect([active(field), document.activeElement]).toEqual(['wheel', field]);
  await userEvent.keyboard('{Enter}');
  expect(onPick).toHaveBeenCalledExactlyOnceWith('wheel');
});

it('begins at the first again when something else is typed', async () => {
  const { field } = shown();
  await userEvent.keyboard('{ArrowDown}{ArrowDown}');
  await userEvent.type(field, 'w');
  expect(active(field)).toBe('well');
});

it('says so where nothing is found, and takes nothing', async () => {
  const { onPick, field } = shown();
  await userEvent.type(field, 'xyz{Enter}');
  expect(screen.getByRole('status')).toHaveTextContent('Nothing is called that.');
  expect([field.getAttribute('aria-expanded'), onPick.mock.calls]).toEqual(['false', []]);
});
