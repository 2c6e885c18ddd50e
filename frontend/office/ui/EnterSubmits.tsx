/** Lets Enter in any field submit a form whose button stands outside of it, as in a dialog's foot. */
export const EnterSubmits = () => <input type="submit" hidden />;
