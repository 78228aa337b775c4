// A drop area takes files that are dropped on it into its file field and
// sends its form; picking a file sends it too.
for (const form of document.querySelectorAll("form.drop")) {
  const field = form.querySelector('input[type="file"]');
  const mark = (on) => form.classList.toggle("over", on);

  form.addEventListener("dragover", (event) => {
    event.preventDefault();
    mark(true);
  });
  form.addEventListener("dragleave", () => mark(false));
  form.addEventListener("drop", (event) => {
    event.preventDefault();
    mark(false);
    if (event.dataTransfer.files.length === 0) return;
    field.files = event.dataTransfer.files;
    form.requestSubmit();
  });
  field.addEventListener("change", () => field.files.length > 0 && form.requestSubmit());
}
