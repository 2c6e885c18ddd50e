/** The stations of a study, in the order of the work. */
export const STATIONS = [
  { key: 'plan', label: 'Plan' },
  { key: 'questionnaire', label: 'Questionnaire' },
  { key: 'field', label: 'Field' },
  { key: 'interviews', label: 'Interviews' },
  { key: 'checks', label: 'Checks' },
  { key: 'clean', label: 'Clean' },
  { key: 'combine', label: 'Combine' },
  { key: 'analyse', label: 'Analyse' },
  { key: 'hand-over', label: 'Hand over' },
] as const;
