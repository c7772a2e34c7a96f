const tachyscope = require('tachyscope');

function nearest({ x, y, boatX, boatY }) {
  let nearest = Infinity;
  for (let beacon = 0; beacon < x.length; beacon++) {
    const east = x[beacon] - boatX;
    const north = y[beacon] - boatY;
    nearest = Math.min(nearest, Math.sqrt(east * east + north * north));
  }
  return nearest;
}

tachyscope.serve([nearest], (json) => ({ ...json, x: Float64Array.from(json.x), y: Float64Array.from(json.y) }));
