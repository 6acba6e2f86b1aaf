# frozen_string_literal: true

require "json"
require "sinatra/base"
require "rack/protection"
require "rack/session"
require "yenvo/engine"

module Yenvo
  # What browsers and programs talk to: one small class per resource, described in web/openapi.yaml.
  module Web
    # What every call needs. root: Store::Root; clock: Clock; settings: Settings; live: Live, which tells open pages
    # what changed.
    House = Core::Value.define(:root, :clock, :settings, :live)
  end
end
