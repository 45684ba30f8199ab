// Numbers in linear memory by their place in a list.

export function i32At(list: usize, i: i32): i32 {
  return load<i32>(list + ((<usize>i) << 2));
}
export function putI32(list: usize, i: i32, value: i32): void {
  store<i32>(list + ((<usize>i) << 2), value);
}
export function addI32(list: usize, i: i32, more: i32): void {
  const at = list + ((<usize>i) << 2);
  store<i32>(at, load<i32>(at) + more);
}
export function f64At(list: usize, i: i32): f64 {
  return load<f64>(list + ((<usize>i) << 3));
}
export function putF64(list: usize, i: i32, value: f64): void {
  store<f64>(list + ((<usize>i) << 3), value);
}
export function f32At(list: usize, i: i32): f32 {
  return load<f32>(list + ((<usize>i) << 2));
}
export function putF32(list: usize, i: i32, value: f32): void {
  store<f32>(list + ((<usize>i) << 2), value);
}
