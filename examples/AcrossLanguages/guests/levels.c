#include "tachyscope.h"

typedef struct {
    double *levels;
    int count;
} Levels;

static void *levels(const cJSON *json) {
    Levels *made = malloc(sizeof *made);
    const cJSON *level;
    made->count = 0;
    made->levels = malloc((size_t)cJSON_GetArraySize(json) * sizeof *made->levels);
    cJSON_ArrayForEach(level, json) made->levels[made->count++] = level->valuedouble;
    return made;
}

static double sum(const Levels *levels) {
    double sum = 0;
    for (int index = 0; index < levels->count; index++) sum += levels->levels[index];
    return sum;
}

TACHYSCOPE_NUMBER(sum, Levels)

int main(void) { return tachyscope_serve(levels, &tachyscope_sum, 1); }
