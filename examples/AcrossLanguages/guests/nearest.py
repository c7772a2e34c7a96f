import math

import tachyscope


def nearest(chart):
    boat_x, boat_y = chart["boatX"], chart["boatY"]
    nearest = math.inf
    for x, y in zip(chart["x"], chart["y"]):
        east, north = x - boat_x, y - boat_y
        nearest = min(nearest, math.sqrt(east * east + north * north))
    return nearest


tachyscope.serve(nearest)
