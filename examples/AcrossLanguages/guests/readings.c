#include "tachyscope.h"

typedef struct {
    int *levels, count;
    char *text;
} Readings;

static void *readings(const cJSON *json) {
    Readings *made = malloc(sizeof *made);
    const cJSON *level;
    made->count = 0;
    made->levels = malloc((size_t)cJSON_GetArraySize(json) * sizeof *made->levels);
    made->text = malloc((size_t)cJSON_GetArraySize(json) * 16 + 1);
    cJSON_ArrayForEach(level, json) made->levels[made->count++] = level->valueint;
    return made;
}

static const char *written(const Readings *readings) {
    char *next = readings->text;
    for (int index = 0; index < readings->count; index++) {
        int level = readings->levels[index], magnitude = abs(level);
        next += sprintf(next, "%s%d.%d;", level < 0 ? "-" : "", magnitude / 10, magnitude % 10);
    }
    *next = '\0';
    return readings->text;
}

TACHYSCOPE_TEXT(written, Readings)

int main(void) { return tachyscope_serve(readings, &tachyscope_written, 1); }
