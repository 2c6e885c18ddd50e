// What the server refused, in the phone's own language: by the problem's code, never by its English words.
import type { Problem } from '../../shared/api/client';
import type { Translate } from '../../shared/texts/catalogue';
import type { FieldText } from './texts';

const BY_CODE: Record<string, FieldText> = {
  device_unknown: 'problem_device_unknown',
  not_allowed: 'problem_not_allowed',
  file_too_large: 'problem_file_too_large',
  disk_full: 'problem_disk_full',
  disk_damaged: 'problem_disk_damaged',
  file_damaged: 'problem_disk_damaged',
  upload_busy: 'problem_upload_busy',
  too_many_tries: 'problem_too_many_tries',
  unforeseen: 'problem_unforeseen',
  unreachable: 'problem_unreachable',
};
const CODES_REFUSED: Record<string, FieldText> = {
  unknown: 'problem_code_unknown',
  used: 'problem_code_used',
  too_old: 'problem_code_too_old',
  withdrawn: 'problem_code_withdrawn',
};

/** A sentence that says what to do; what this phone has no words for, as the server says it. */
export function problemWords(problem: Problem, t: Translate<FieldText>): string {
  const key =
    problem.code === 'wrong_pairing_code' ? CODES_REFUSED[String(problem.details.why)] : BY_CODE[problem.code];
  return key === undefined ? problem.message : t(key);
}
