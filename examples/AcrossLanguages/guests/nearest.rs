use tachyscope::{operation, serve, Json};

struct Chart {
    x: Vec<f64>,
    y: Vec<f64>,
    boat_x: f64,
    boat_y: f64,
}

fn numbers(json: &Json) -> Option<Vec<f64>> {
    json.as_array()?.iter().map(Json::as_f64).collect()
}

fn chart(json: &Json) -> Option<Chart> {
    Some(Chart { x: numbers(&json["x"])?, y: numbers(&json["y"])?, boat_x: json["boatX"].as_f64()?, boat_y: json["boatY"].as_f64()? })
}

fn nearest(chart: &Chart) -> f64 {
    let distance = |(x, y): (&f64, &f64)| {
        let (east, north) = (x - chart.boat_x, y - chart.boat_y);
        (east * east + north * north).sqrt()
    };
    chart.x.iter().zip(&chart.y).map(distance).fold(f64::INFINITY, f64::min)
}

fn main() {
    serve(chart, vec![operation("nearest", nearest)]);
}
