export function BringScreen() {
  return null;
}
