const tachyscope = require('tachyscope');

function written(levels) {
  let text = '';
  for (const level of levels) {
    const magnitude = Math.abs(level);
    text += `${level < 0 ? '-' : ''}${Math.trunc(magnitude / 10)}.${magnitude % 10};`;
  }
  return text;
}

tachyscope.serve([written]);
