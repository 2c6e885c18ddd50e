// @vitest-environment jsdom
import { renderHook } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { offeredActs, useOfferedActs, type Act } from './acts';

const act = (key: string): Act => ({ key, label: key, run: () => undefined });
const keys = () => offeredActs().map(({ key }) => key);

describe('the acts of the open page', () => {
  it('are those of its last drawing, and none once it is left', () => {
    const page = renderHook(
      ({ offered }) => {
        useOfferedActs(offered);
      },
      { initialProps: { offered: [act('release')] } },
    );
    expect(keys()).toEqual(['release']);
    page.rerender({ offered: [act('languages'), act('release')] });
    expect(keys()).toEqual(['languages', 'release']);
    page.unmount();
    expect(keys()).toEqual([]);
  });

  it('stay those of the next page when the one before leaves after it has come', () => {
    const before = renderHook(() => {
      useOfferedActs([act('before')]);
    });
    const next = renderHook(() => {
      useOfferedActs([act('next')]);
    });
    before.unmount();
    expect(keys()).toEqual(['next']);
    next.unmount();
    expect(keys()).toEqual([]);
  });
});
