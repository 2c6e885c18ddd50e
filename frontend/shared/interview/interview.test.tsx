import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Json, Screen } from '../engine/types';
import { Grid, standsInGrid, toggled } from './Grid';
import { LongList } from './answers/LongList';
import { MediaBeside, MediaContext, lookUpIn, type ReleaseMedia } from './media';
import { learnWords, textsIn } from './texts';

const code = (name: string, exclusive = false) => ({ code: name, label: name.toUpperCase(), exclusive, media: [] });

const question = (more: Partial<Screen>): Screen => ({
  path: 'q',
  kind: 'single answer',
  variable: 'q',
  around: [{ kind: 'grid', title: 'How far?', row: null, rows: null }],
  wording: [{ text: 'Wording', filled: false }],
  read_aloud: true,
  media: [],
  instruction: '',
  codes: [code('a'), code('b'), code('none', true)],
  codes_left: 0,
  units: [],
  reads_back: null,
  value: null,
  special: null,
  special_allowed: [],
  needed: false,
  mask: '',
  example: '',
  most: null,
  before: null,
  removable_row: null,
  findings: [],
  previous: null,
  next: null,
  progress: 0,
  ...more,
});

const needed = {
  code: 'needed',
  strength: 'must' as const,
  path: 'r',
  check: -1,
  rule: '',
  message: 'An answer is needed here.',
  paths: [],
  kept: '',
};

describe('a grid', () => {
  const lines = [
    question({ path: 'r', variable: 'r', wording: [{ text: 'First', filled: false }], findings: [needed] }),
    question({ path: 's', kind: 'multiple answer', value: ['a'], wording: [{ text: 'Second', filled: false }] }),
    question({ path: 't', codes: [code('a')], value: 'a', wording: [{ text: 'Third', filled: false }] }),
  ];

  it('has a line for each question and answers each by itself', async () => {
    const onAnswer = vi.fn();
    render(<Grid lines={lines} t={textsIn('en')} showNeeded={false} onAnswer={onAnswer} onKeep={vi.fn()} />);
    expect(screen.getByRole('heading').textContent).toBe('How far?');
    await userEvent.click(screen.getByLabelText('First: B'));
    await userEvent.click(screen.getByLabelText('Second: B'));
    await userEvent.click(screen.getByLabelText('Second: NONE'));
    expect(onAnswer.mock.calls).toEqual([
      ['r', 'b'],
      ['s', ['a', 'b']],
      ['s', ['none']],
    ]);
    expect(screen.getByLabelText('Third: B')).toBeDisabled();
    expect(screen.getByLabelText('Third: A')).toBeChecked();
    expect(screen.queryByText(needed.message)).toBeNull();
  });

  it('says that an answer is missing once somebody tried to go on', () => {
    render(<Grid lines={lines} t={textsIn('en')} showNeeded onAnswer={vi.fn()} onKeep={vi.fn()} />);
    expect(screen.getByText(needed.message)).toBeInTheDocument();
  });

  it('is none where a line needs more than a tick', () => {
    expect(standsInGrid(lines)).toBe(true);
    expect(standsInGrid(lines.slice(0, 1))).toBe(false);
    expect(standsInGrid([...lines, question({ codes_left: 9 })])).toBe(false);
    expect(standsInGrid([...lines, question({ codes: [] })])).toBe(false);
  });

  it('takes one code away again, and the last one leaves nothing', () => {
    expect(toggled(question({ value: ['a', 'b'] }), 'a')).toEqual(['b']);
    expect(toggled(question({ value: ['a'] }), 'a')).toBeNull();
    expect(toggled(question({ value: ['none'] }), 'b')).toEqual(['b']);
  });
});

describe('a long list', () => {
  const found = { codes: [code('lund')], more: 0 };
  const drawn = (findCodes: (typed: string) => Promise<typeof found>, onChoose: (code: string) => void) =>
    render(
      <LongList
        screen={question({ codes_left: 497 })}
        t={textsIn('en')}
        language="en"
        labelledBy="x"
        invalid={false}
        onAnswer={vi.fn<(value: Json) => void>()}
        findCodes={findCodes}
        chosen={[]}
        onChoose={onChoose}
      />,
    );

  it('says how many there are, finds by typing, and takes the only one by Enter', async () => {
    const findCodes = vi.fn(() => Promise.resolve(found));
    const onChoose = vi.fn();
    drawn(findCodes, onChoose);
    const field = screen.getByPlaceholderText('500 entries: type any part of a name');
    expect(screen.getAllByRole('radio')).toHaveLength(3);
    await userEvent.type(field, 'lun');
    await waitFor(() => expect(screen.getByText('LUND')).toBeInTheDocument());
    expect(findCodes).toHaveBeenLastCalledWith('lun');
    await userEvent.keyboard('{Enter}');
    expect(onChoose).toHaveBeenCalledWith('lund');
    expect(field).toHaveValue('');
  });

  it('keeps what was typed last where an earlier answer comes late, and says when there is nothing', async () => {
    const answers: ((codes: typeof found) => void)[] = [];
    drawn(() => new Promise((resolve) => answers.push(resolve)), vi.fn());
    const field = screen.getByRole('searchbox');
    fireEvent.change(field, { target: { value: 'l' } });
    fireEvent.change(field, { target: { value: 'lx' } });
    answers[1]?.({ codes: [], more: 0 });
    await waitFor(() => expect(screen.getByText('Nothing holds “lx”.')).toBeInTheDocument());
    answers[0]?.(found);
    await Promise.resolve();
    expect(screen.queryByText('LUND')).toBeNull();
  });
});

describe('media beside a question', () => {
  const file = (hash: string, type: string) => ({ hash, type, bytes: 1, said: { en: `said ${hash}` } });
  const media: ReleaseMedia = {
    'vice.png': { en: file('p', 'image/webp') },
    'a.mp3': { en: file('s', 'audio/mpeg'), fr: file('t', 'audio/mpeg') },
    'away.png': { en: file('gone', 'image/png') },
  };
  const lookUp = lookUpIn(media, 'fr', 'en', (hash) => (hash === 'gone' ? null : `/of/${hash}`));

  it('is that of the language, of the first language, or none that is not here', () => {
    expect(lookUp('a.mp3')).toEqual({ url: '/of/t', type: 'audio/mpeg', said: 'said t' });
    expect(lookUp('vice.png')?.url).toBe('/of/p');
    expect(lookUp('away.png')).toBeNull();
    expect(lookUp('unknown.png')).toBeNull();
  });

  it('is shown or played, with what it says for those who cannot see it', () => {
    const { container } = render(
      <MediaContext value={lookUp}>
        <MediaBeside names={['vice.png', 'a.mp3', 'away.png']} />
      </MediaContext>,
    );
    expect(screen.getByAltText('said p')).toHaveAttribute('src', '/of/p');
    expect(container.querySelector('audio')).toHaveAttribute('aria-label', 'said t');
    expect(container.querySelectorAll('img, audio, video')).toHaveLength(2);
  });
});

it('learns the words of a language that Skavo does not speak, and no others', () => {
  expect(textsIn('sw')('next')).toBe('Next');
  learnWords({ sw: { 'interview.next': 'Mbele', 'engine.needed': 'x' }, fr: { 'interview.next': 'Autre' } });
  expect(textsIn('sw')('next')).toBe('Mbele');
  expect(textsIn('sw')('back')).toBe('Back');
  expect(textsIn('fr')('next')).toBe('Suivant');
  learnWords({ sw: {} });
  expect(textsIn('sw')('next')).toBe('Next');
});
