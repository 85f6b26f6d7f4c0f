"""What lens, film, grade and frame do to a picture: one module an effect, each an array function on scene
light."""
