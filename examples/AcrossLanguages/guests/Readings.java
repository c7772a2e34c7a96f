public final class Readings {
    static String written(int[] levels) {
        StringBuilder text = new StringBuilder();
        for (int level : levels) {
            int magnitude = Math.abs(level);
            text.append(level < 0 ? "-" : "").append(magnitude / 10).append('.').append(magnitude % 10).append(';');
        }
        return text.toString();
    }

    public static void main(String[] arguments) throws Exception {
        Tachyscope.serve(int[].class, Tachyscope.any("written", Readings::written));
    }
}
