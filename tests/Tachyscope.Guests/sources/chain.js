// Chains of multiplications, three clock cycles each: a guest of known cost.
const tachyscope = require('tachyscope');

// In memory, where the engine does not take it for a constant that multiplications could be folded with.
const factors = new Int32Array([0x7f4a7c15]);

function chain(start, links) {
  const factor = factors[0];
  let value = start | 0;
  for (let left = links; left > 0; left -= 8) {
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
    value = Math.imul(value, factor);
  }
  return value;
}

function chain64(input) { return chain(input.start, 64); }
function chain256(input) { return chain(input.start, 256); }

tachyscope.serve([chain64, chain256]);
