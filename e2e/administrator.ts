/** Who runs the server of these tests. */
export const ADMINISTRATOR = {
  email: 'runa.holt@ostrel.example',
  name: 'Runa Holt',
  password: 'three slate roofs and a pole',
};
