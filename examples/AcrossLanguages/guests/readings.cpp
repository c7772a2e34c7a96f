#include "tachyscope.h"

#include <string>
#include <vector>

struct Readings {
    std::vector<int> levels;
    mutable std::string text;
};

static void *readings(const cJSON *json) {
    auto made = new Readings;
    const cJSON *level;
    cJSON_ArrayForEach(level, json) made->levels.push_back(level->valueint);
    return made;
}

static const char *written(const Readings *readings) {
    std::string text;
    for (const auto level : readings->levels) {
        const auto magnitude = std::abs(level);
        text += level < 0 ? "-" : "";
        text += std::to_string(magnitude / 10);
        text += '.';
        text += std::to_string(magnitude % 10);
        text += ';';
    }
    readings->text = std::move(text);
    return readings->text.c_str();
}

TACHYSCOPE_TEXT(written, Readings)

int main() { return tachyscope_serve(readings, &tachyscope_written, 1); }
