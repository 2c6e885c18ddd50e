import { act, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, expect, it, vi } from 'vitest';
import type { Screen } from '../../engine/types';
import { textsIn } from '../texts';
import { FileAnswer } from './Files';
import { Scanned } from './Scanned';

afterEach(() => {
  vi.unstubAllGlobals();
});

const refuses = () => {
  const getUserMedia = () => Promise.reject(new DOMException('denied', 'NotAllowedError'));
  vi.stubGlobal('MediaRecorder', vi.fn());
  Object.defineProperty(navigator, 'mediaDevices', { value: { getUserMedia }, configurable: true });
};

const props = (kind: string) => ({
  t: textsIn('en'),
  language: 'en',
  labelledBy: 'x',
  invalid: false,
  findCodes: () => Promise.resolve({ codes: [], more: 0 }),
  onAnswer: vi.fn(),
  screen: { kind, value: null, special: null, mask: '', example: '' } as unknown as Screen,
});

const press = async (name: string) => {
  await act(async () => {
    fireEvent.click(screen.getByRole('button', { name }));
    await new Promise((on) => setTimeout(on, 20));
  });
};

it('a camera that may not be used says so, and a picture is taken instead', async () => {
  refuses();
  render(<Scanned {...props('scanned code')} />);
  await press('Scan the code');
  expect(screen.getByText(/The camera cannot be used here/)).toBeVisible();
  expect(screen.getByText('Take a picture of the code')).toBeVisible();
});

it('a microphone that may not be used says so, and a file is chosen instead', async () => {
  refuses();
  const { container } = render(<FileAnswer {...props('audio')} />);
  await press('Record');
  expect(screen.getByText(/Nothing can be recorded here/)).toBeVisible();
  expect(container.querySelector('input[type=file]')).toHaveAttribute('accept', 'audio/*');
});
