# frozen_string_literal: true

$LOAD_PATH.unshift File.expand_path("lib", __dir__)
require "yenvo/boot"

require "yenvo/web"
Yenvo::Web::BodyLimits.hold!
house = Yenvo::Boot.house(ENV)
run Yenvo::Web::App.build(house, pages: File.expand_path("ui/dist", __dir__))
