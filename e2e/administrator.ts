/** Who runs the server of these tests. */
export const ADMINISTRATOR = {
  email: 'runa.holt@ostrel.example',
  name: 'Rima Hollin',
  password: 'three slate roofs and a pole',
};
