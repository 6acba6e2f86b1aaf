# frozen_string_literal: true

require "zeitwerk"

# Yenvo: if-then rules that create, assign and follow up tasks on contacts, deals, tickets and lists.
module Yenvo
  # One autoloader for all rooms: a constant is loaded from the path that its name says, and only when it is used,
  # so that loading core loads no database and no web server.
  # Folders within a room are rooms for the eye: constants in them are named as if they stood in the room itself.
  FOLDERS = {
    "core" => %w[
      ground seen sides conditions dates values rules planning checks forms doors letters tables erasing merging
    ],
    "store" => %w[
      access bulk doors erasing forms journal kits letters merging outbox papers records rules runs search setup tables
      tasks timers
    ],
    "engine" => %w[answers jobs outbox time],
    "web" => %w[access calls resources visits watching]
  }.freeze

  LOADER = Zeitwerk::Loader.new.tap do |loader|
    loader.tag = "yenvo"
    loader.push_dir(File.expand_path("..", __dir__))
    loader.ignore(__FILE__)
    loader.inflector.inflect("cli" => "CLI", "yaml_lines" => "YamlLines")
    FOLDERS.each { |room, folders| folders.each { |folder| loader.collapse(File.join(__dir__, room, folder)) } }
    loader.setup
  end
end
