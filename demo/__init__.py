"""The production “The Last Lamp”: made-up figures, clips and a scene, and what generates them."""
