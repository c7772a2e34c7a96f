import tachyscope


def written(levels):
    parts = []
    for level in levels:
        magnitude = abs(level)
        parts.append(f"{'-' if level < 0 else ''}{magnitude // 10}.{magnitude % 10};")
    return "".join(parts)


tachyscope.serve(written)
