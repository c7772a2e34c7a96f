public final class Nearest {
    double[] x;
    double[] y;
    double boatX;
    double boatY;

    static double nearest(Nearest chart) {
        double nearest = Double.POSITIVE_INFINITY;
        for (int beacon = 0; beacon < chart.x.length; beacon++) {
            double east = chart.x[beacon] - chart.boatX;
            double north = chart.y[beacon] - chart.boatY;
            nearest = Math.min(nearest, Math.sqrt(east * east + north * north));
        }
        return nearest;
    }

    public static void main(String[] arguments) throws Exception {
        Tachyscope.serve(Nearest.class, Tachyscope.number("nearest", Nearest::nearest));
    }
}
