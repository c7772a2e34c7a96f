/* Chains of multiplications, three clock cycles each: a guest of known cost. */
#include "tachyscope.h"

typedef struct { uint64_t value, factor; } Start;

static void *start(const cJSON *json) {
    Start *made = (Start *)malloc(sizeof *made);
    const cJSON *value = cJSON_GetObjectItem(json, "start");
    made->value = value ? (uint64_t)value->valuedouble : 3;
    made->factor = UINT64_C(0x1E3779B97F4A7C15);
    return made;
}

/* No compiler may fold two of them into one. */
#define LINK __asm__ volatile("" : "+r"(value)); value *= factor;
#define EIGHT LINK LINK LINK LINK LINK LINK LINK LINK

static int64_t chain64(const Start *from) {
    uint64_t value = from->value, factor = from->factor;
    EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT
    return (int64_t)value;
}

static int64_t chain256(const Start *from) {
    uint64_t value = from->value, factor = from->factor;
    for (int turn = 0; turn < 4; turn++) { EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT }
    return (int64_t)value;
}

/* Five links more, which is 2 %. */
static int64_t chain261(const Start *from) {
    uint64_t value = from->value, factor = from->factor;
    for (int turn = 0; turn < 4; turn++) { EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT EIGHT }
    LINK LINK LINK LINK LINK
    return (int64_t)value;
}

TACHYSCOPE_WHOLE(chain64, Start)
TACHYSCOPE_WHOLE(chain256, Start)
TACHYSCOPE_WHOLE(chain261, Start)

int main(void) {
    const tachyscope_operation all[] = {tachyscope_chain64, tachyscope_chain256, tachyscope_chain261};
    return tachyscope_serve(start, all, 3);
}
