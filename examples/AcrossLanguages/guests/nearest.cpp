#include "tachyscope.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

struct Chart {
    std::vector<double> x, y;
    double boat_x, boat_y;
};

static std::vector<double> numbers(const cJSON *json) {
    std::vector<double> made;
    const cJSON *number;
    cJSON_ArrayForEach(number, json) made.push_back(number->valuedouble);
    return made;
}

static void *chart(const cJSON *json) {
    return new Chart{numbers(cJSON_GetObjectItem(json, "x")), numbers(cJSON_GetObjectItem(json, "y")),
                     cJSON_GetObjectItem(json, "boatX")->valuedouble, cJSON_GetObjectItem(json, "boatY")->valuedouble};
}

static double nearest(const Chart *chart) {
    auto nearest = std::numeric_limits<double>::infinity();
    for (std::size_t beacon = 0; beacon < chart->x.size(); beacon++) {
        const auto east = chart->x[beacon] - chart->boat_x, north = chart->y[beacon] - chart->boat_y;
        nearest = std::min(nearest, std::sqrt(east * east + north * north));
    }
    return nearest;
}

TACHYSCOPE_NUMBER(nearest, Chart)

int main() { return tachyscope_serve(chart, &tachyscope_nearest, 1); }
