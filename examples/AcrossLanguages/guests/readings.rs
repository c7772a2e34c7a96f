use std::fmt::Write;
use tachyscope::{operation, serve, Json};

fn readings(json: &Json) -> Option<Vec<i64>> {
    json.as_array()?.iter().map(Json::as_i64).collect()
}

fn written(levels: &Vec<i64>) -> String {
    let mut text = String::new();
    for &level in levels {
        let magnitude = level.abs();
        let sign = if level < 0 { "-" } else { "" };
        write!(text, "{sign}{}.{};", magnitude / 10, magnitude % 10).expect("a text grows");
    }
    text
}

fn main() {
    serve(readings, vec![operation("written", written)]);
}
