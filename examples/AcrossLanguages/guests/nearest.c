#include "tachyscope.h"

typedef struct {
    double *x, *y, boat_x, boat_y;
    int count;
} Chart;

static double *numbers(const cJSON *json) {
    double *made = malloc((size_t)cJSON_GetArraySize(json) * sizeof *made), *next = made;
    const cJSON *number;
    cJSON_ArrayForEach(number, json) *next++ = number->valuedouble;
    return made;
}

static void *chart(const cJSON *json) {
    Chart *made = malloc(sizeof *made);
    made->x = numbers(cJSON_GetObjectItem(json, "x"));
    made->y = numbers(cJSON_GetObjectItem(json, "y"));
    made->boat_x = cJSON_GetObjectItem(json, "boatX")->valuedouble;
    made->boat_y = cJSON_GetObjectItem(json, "boatY")->valuedouble;
    made->count = cJSON_GetArraySize(cJSON_GetObjectItem(json, "x"));
    return made;
}

static double nearest(const Chart *chart) {
    double nearest = INFINITY;
    for (int beacon = 0; beacon < chart->count; beacon++) {
        double east = chart->x[beacon] - chart->boat_x, north = chart->y[beacon] - chart->boat_y;
        double distance = sqrt(east * east + north * north);
        nearest = distance < nearest ? distance : nearest;
    }
    return nearest;
}

TACHYSCOPE_NUMBER(nearest, Chart)

int main(void) { return tachyscope_serve(chart, &tachyscope_nearest, 1); }
