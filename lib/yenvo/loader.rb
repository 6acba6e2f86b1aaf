# frozen_string_literal: true

require "zeitwerk"

# Yenvo: if-then rules that create, assign and follow up tasks on contacts, deals, tickets and lists.
module Yenvo
  # One autoloader for all rooms: a constant is loaded from the path that its name says, and only when it is used,
  # so that loading core loads no database and no web server.
  LOADER = Zeitwerk::Loader.new.tap do |loader|
    loader.tag = "yenvo"
    loader.push_dir(File.expand_path("..", __dir__))
    loader.ignore(__FILE__)
    loader.inflector.inflect("cli" => "CLI", "yaml_lines" => "YamlLines")
    loader.setup
  end
end
