// Sets the theme before the first paint.
document.documentElement.dataset.bsTheme = localStorage.getItem("theme") === "light" ? "light" : "dark";
