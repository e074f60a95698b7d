import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "@fontsource-variable/jetbrains-mono/index.css";
import "@fontsource-variable/newsreader/index.css";
import "./player.css";
import "./questions.css";
