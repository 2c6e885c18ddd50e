// What menus and dialogs leave undone for whoever works by keyboard.

const FIELDS =
  '.ant-modal-body :is(input:not([disabled], [type=hidden]), textarea:not([disabled]), [contenteditable=true])';

/** Enter in a menu, and where the caret goes in a dialog that opens. */
export function mindTheKeyboard(page: Document) {
  page.addEventListener(
    'keydown',
    (event) => {
      // What opens from a menu takes the focus at once: the Enter that chose it would go on to press the first button there.
      if (event.key === 'Enter' && event.target instanceof Element && event.target.closest('[role=menuitem]'))
        event.preventDefault();
    },
    true,
  );
  page.addEventListener('focusin', ({ target, relatedTarget }) => {
    // A dialog begins with its first field, not with the button that closes it.
    if (!(target instanceof Element) || !target.matches('.ant-modal-close')) return;
    const dialog = target.closest('.ant-modal');
    if (relatedTarget instanceof Node && dialog?.contains(relatedTarget) === true) return;
    dialog?.querySelector<HTMLElement>(FIELDS)?.focus();
  });
}
